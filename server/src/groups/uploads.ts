import type { SentFile } from '@gate-roster/contract';
import { eq, sql } from 'drizzle-orm';
import { firstOf, maybeRow, onlyOne, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { ProblemError } from '../http/problem.ts';

const mostBytes = 2_000_000;

/** What a picture is, by its first bytes; null when it is none that browsers show safely. */
export function pictureType(content: Buffer): string | null {
  if (content.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return 'image/png';
  if (content.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]))) return 'image/jpeg';
  if (content.subarray(0, 4).toString('latin1') === 'RIFF' && content.subarray(8, 12).toString('latin1') === 'WEBP') return 'image/webp';
  return null;
}

/** Keeps a file until it is hung on a group. @throws ProblemError `wrong-file` when it is empty or too large. */
export async function keepUpload(
  db: Queryable,
  madeBy: number,
  fileName: string,
  content: Buffer,
): Promise<{ id: number; isPicture: boolean }> {
  if (content.length === 0 || content.length > mostBytes) throw new ProblemError('wrong-file');
  const picture = pictureType(content);
  const { id } = await onlyOne(
    db
      .insert(tables.upload)
      .values({ fileName, mimeType: picture ?? 'application/octet-stream', content, madeBy })
      .returning({ id: tables.upload.id }),
  );
  return { id, isPicture: picture !== null };
}

export async function maybeFile(db: Queryable, uploadId: number | null): Promise<SentFile | null> {
  if (uploadId === null) return null;
  const file = await firstOf(
    db
      .select({ file_name: tables.upload.fileName, mime_type: tables.upload.mimeType, content: tables.upload.content })
      .from(tables.upload)
      .where(eq(tables.upload.id, uploadId)),
  );
  return (
    file && { fileName: file.file_name, mimeType: file.mime_type, isPicture: file.mime_type.startsWith('image/'), content: file.content }
  );
}

/** A picture that this person sent, of a kind that PDF documents and mail programs show. */
export const isOwnPicture = async (db: Queryable, personId: number, uploadId: number): Promise<boolean> =>
  (await maybeRow(
    db,
    sql`select 1 from upload where id = ${uploadId} and made_by = ${personId} and mime_type in ('image/png', 'image/jpeg')`,
  )) !== null;
