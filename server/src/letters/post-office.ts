import { sql } from 'drizzle-orm';
import express, { type Router } from 'express';
import { iso, type Queryable, rows } from '../database/connect.ts';

const shown = 50;
const escape = (text: string): string => text.replace(/[&<>"]/gu, (letter) => `&#${letter.charCodeAt(0)};`);
const withLinks = (text: string): string => escape(text).replace(/https?:\/\/\S+/gu, (link) => `<a href="${link}">${link}</a>`);

/** The mailboxes of the simulated mail server: the last letters to everybody, or to one address (`?to=`), for those who try the application out. */
export function postOffice(db: Queryable): Router {
  const router = express.Router();
  router.get('/', async (request, response) => {
    const to = typeof request.query['to'] === 'string' ? request.query['to'].trim() : '';
    const letters = await rows<{
      id: number;
      address: string;
      sender: string;
      subject: string;
      body: string;
      at: string;
      picture: string | null;
    }>(
      db,
      sql`select id, recipient as address, sender, subject, plain as body, received_at as at, substring(html from 'src="(data:image/[^"]+)"') as picture from received_mail where ${to === '' ? sql`true` : sql`recipient = ${to}`} order by id desc limit ${shown}`,
    );
    const list = letters.map(
      ({ address, sender, subject, body, at, picture }) =>
        `<article><h2>${escape(subject)}</h2><p>From ${escape(sender)}, to ${escape(address)}, ${escape(iso(at))}</p>${
          picture === null ? '' : `<img src="${escape(picture)}" alt="" style="max-height:64px;max-width:240px">`
        }<pre>${withLinks(body)}</pre></article>`,
    );
    response
      .type('html')
      .setHeader('Cache-Control', 'no-store')
      .send(
        `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="color-scheme" content="light dark"><title>Post office (stand-in)</title></head><body><h1>Post office (stand-in)</h1><p>No mail leaves this machine. The last letters:</p><form><label>To <input name="to" type="email" value="${escape(to)}"></label> <button>Show</button></form>${list.join('') || '<p>None yet.</p>'}</body></html>`,
      );
  });
  return router;
}
