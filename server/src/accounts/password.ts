import { hash, verify } from '@node-rs/argon2';
import { sql } from 'drizzle-orm';
import { maybeRow, type Queryable } from '../database/connect.ts';

// Argon2id with the library's defaults (19 MiB, 2 passes), as OWASP's password storage sheet advises.
export const hashPassword = (password: string): Promise<string> => hash(password);

/** Takes as long for an unknown name (no hash) as for a wrong password, so that timing tells nothing. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  const fits = await verify(stored ?? (await nobodysHash), password);
  return stored !== null && fits;
}

/** Is this the password that the account has? */
export async function hasPassword(db: Queryable, personId: number, password: string): Promise<boolean> {
  const stored = await maybeRow<{ password_hash: string }>(db, sql`select password_hash from credential where person_id = ${personId}`);
  return isPassword(stored?.password_hash ?? null, password);
}

const nobodysHash = hash('nobody signs in with this');
