import { hash, verify } from '@node-rs/argon2';
import { eq } from 'drizzle-orm';
import { firstOf, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

// Argon2id with the library's defaults (19 MiB, 2 passes), as OWASP's password storage sheet advises.
export const hashPassword = (password: string): Promise<string> => hash(password);

/** Takes as long for an unknown name (no hash) as for a wrong password, so that timing tells nothing. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  const fits = await verify(stored ?? (await nobodysHash), password);
  return stored !== null && fits;
}

/** Is this the password that the account has? */
export async function hasPassword(db: Queryable, personId: number, password: string): Promise<boolean> {
  const stored = await firstOf(
    db.select({ password_hash: tables.credential.passwordHash }).from(tables.credential).where(eq(tables.credential.personId, personId)),
  );
  return isPassword(stored?.password_hash ?? null, password);
}

const nobodysHash = hash('nobody signs in with this');
