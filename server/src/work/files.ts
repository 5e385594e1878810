import { createHmac, timingSafeEqual } from 'node:crypto';
import type { SentFile } from '@gate-roster/contract';
import { eq, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { firstOf, maybeRow, oneRow, onlyOne, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pictureType } from '../groups/uploads.ts';
import { ProblemError } from '../http/problem.ts';

/* Files that are handed in. What they are is told by their bytes; pictures are written again, without what cameras add. */

export const mostFiles = 5;
const mostBytes = 2_000_000;
const longestSide = 2000;
const readableMinutes = 15;

/** Adds a file to a draft. @throws ProblemError `wrong-file` when it is empty, too large, a broken picture, or one file too many. */
export async function addFile(tx: Transaction, versionId: number, fileName: string, given: Buffer): Promise<number> {
  if (given.length === 0 || given.length > mostBytes) throw new ProblemError('wrong-file');
  const { has } = await oneRow<{ has: number }>(tx, sql`select count(*)::int as has from work_file where version_id = ${versionId}`);
  if (has >= mostFiles) throw new ProblemError('wrong-file');
  const picture = pictureType(given);
  const content = picture === null ? given : await writtenAgain(given, picture);
  const { id } = await onlyOne(
    tx
      .insert(tables.workFile)
      .values({ versionId, fileName, mimeType: picture ?? typeOf(given), size: content.length, content })
      .returning({ id: tables.workFile.id }),
  );
  return id;
}

/** The picture upright, its longest side at most 2,000, and without metadata. */
async function writtenAgain(content: Buffer, type: string): Promise<Buffer> {
  try {
    const picture = sharp(content, { limitInputPixels: 60_000_000, animated: false })
      .rotate()
      .resize({ width: longestSide, height: longestSide, fit: 'inside', withoutEnlargement: true });
    const kind = type === 'image/png' ? picture.png() : type === 'image/webp' ? picture.webp() : picture.jpeg({ quality: 82 });
    return await kind.toBuffer();
  } catch (error) {
    throw new ProblemError('wrong-file', {}, { cause: error });
  }
}

/** PDF by its first bytes, plain text when it is nothing but text; everything else is only kept. */
function typeOf(content: Buffer): string {
  if (content.subarray(0, 5).toString('latin1') === '%PDF-') return 'application/pdf';
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(content);
    return text.includes('\0') ? 'application/octet-stream' : 'text/plain';
  } catch {
    return 'application/octet-stream';
  }
}

/** The address of a file for one reader: it holds the file's number and its end, signed, and asks for no cookie. */
export function fileKey(secret: string, fileId: number, now: Date): string {
  const ends = Math.floor(now.getTime() / 60_000) + readableMinutes;
  return `${fileId}-${ends}-${signed(secret, fileId, ends)}`;
}

const signed = (secret: string, fileId: number, ends: number): string =>
  createHmac('sha256', secret).update(`work file ${fileId} until ${ends}`).digest('base64url');

/** @throws ProblemError `not-found` when the key is wrong or over. */
export function fileOfKey(secret: string, key: string, now: Date): number {
  const [, id, ends, given] = /^(\d{1,15})-(\d{1,10})-([\w-]{43})$/u.exec(key) ?? [];
  if (!id || !ends || !given) throw new ProblemError('not-found');
  const right = Buffer.from(signed(secret, Number(id), Number(ends)));
  const said = Buffer.from(given);
  if (right.length !== said.length || !timingSafeEqual(right, said) || Number(ends) * 60_000 < now.getTime())
    throw new ProblemError('not-found');
  return Number(id);
}

/** Every file is saved and never shown by itself: the page that shows it reads its bytes. */
export async function maybeWorkFile(db: Parameters<typeof maybeRow>[0], fileId: number): Promise<SentFile | null> {
  const file = await firstOf(
    db
      .select({ file_name: tables.workFile.fileName, content: tables.workFile.content })
      .from(tables.workFile)
      .where(eq(tables.workFile.id, fileId)),
  );
  return file && { fileName: file.file_name, mimeType: 'application/octet-stream', isPicture: false, content: file.content };
}
