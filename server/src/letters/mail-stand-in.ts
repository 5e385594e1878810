import type { AddressInfo } from 'node:net';
import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import type { Database } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { addressIn } from './post.ts';

/** Mailboxes at this address do not exist, so that one can see what becomes of a letter that comes back. */
const nobodyAt = 'gone.example';

/** A stand-in for a mail server: real SMTP on loopback; what arrives can be read at /post. @returns Its address, and how to stop it. */
export async function startMailStandIn(
  db: Database,
  { sender, publicUrl }: { sender: string; publicUrl: string },
): Promise<{ url: string; stop: () => Promise<void> }> {
  const own = addressIn(sender).toLowerCase();
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    onRcptTo({ address }, _session, callback) {
      const isGone = address.toLowerCase().endsWith(`@${nobodyAt}`);
      // Nobody reads answers by letter: the one who wrote gets this back from their own mail server.
      const refusal =
        address.toLowerCase() === own
          ? `Answers by email are not read. Answer at ${publicUrl}/my-messages`
          : isGone
            ? `There is no mailbox ${address}`
            : null;
      callback(refusal === null ? null : Object.assign(new Error(refusal), { responseCode: 550 }));
    },
    onData(stream, session, callback) {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        keep(
          db,
          Buffer.concat(parts),
          session.envelope.rcptTo.map(({ address }) => address),
        ).then(
          () => {
            callback(null);
          },
          () => {
            callback(Object.assign(new Error('Try again'), { responseCode: 451 }));
          },
        );
      });
    },
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(0, '127.0.0.1', resolve);
  });
  const { port } = server.server.address() as AddressInfo;
  return {
    url: `smtp://127.0.0.1:${port}`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => {
          resolve();
        });
      }),
  };
}

async function keep(db: Database, message: Buffer, recipients: readonly string[]): Promise<void> {
  const { subject = '', text = '', html = '', from, attachments } = await PostalMime.parse(message, { attachmentEncoding: 'base64' });
  const sender = from?.name ?? '';
  // As a mail program shows it: with its pictures.
  const shown = attachments.reduce(
    (all, { contentId = '', mimeType, content }) =>
      contentId === ''
        ? all
        : all.replaceAll(
            `cid:${contentId.replace(/^<|>$/gu, '')}`,
            `data:${mimeType};base64,${typeof content === 'string' ? content : ''}`,
          ),
    html,
  );
  for (const recipient of recipients) await db.insert(tables.receivedMail).values({ recipient, sender, subject, plain: text, html: shown });
}
