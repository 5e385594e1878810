import { sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect.ts';

export interface Letter {
  /** Whose letter it is; null when the address may have no account. */
  personId: number | null;
  address: string;
  subject: string;
  body: string;
}

/** Hands letters to the post office, which is a stand-in: it keeps them to be read. They leave when the transaction commits. */
export async function sendLetters(db: Queryable, letters: readonly Letter[]): Promise<void> {
  if (letters.length === 0) return;
  await db.execute(sql`
    insert into letter (person_id, address, subject, body) select "personId", address, subject, body
    from jsonb_to_recordset(${JSON.stringify(letters)}::jsonb) as r("personId" bigint, address citext, subject text, body text)`);
}

const greeting = (name: string): string => (name.trim() === '' ? 'Hello,' : `Hello ${name.trim()},`);

/** A first way in for somebody whose account was made by others. No letter carries a password. */
export function welcomeLetter(
  to: { personId: number; address: string; name: string },
  group: string,
  organisation: string,
  link: string,
): Letter {
  return {
    personId: to.personId,
    address: to.address,
    subject: `Your account at ${organisation}`,
    body: `${greeting(to.name)}\n\nyou have an account at ${organisation} now, for ${group}. This link signs you in once, within 7 days; then choose a password of your own:\n\n${link}\n\nIf you do not know what this is about, leave it.\n`,
  };
}

export function invitationLetter(to: { address: string; name: string }, group: string, organisation: string, link: string): Letter {
  return {
    personId: null,
    address: to.address,
    subject: `Invitation to ${group}`,
    body: `${greeting(to.name)}\n\nyou are asked to come into ${group} at ${organisation}. Follow this link within 30 days to say yes:\n\n${link}\n\nNothing happens if you leave it.\n`,
  };
}

export function signInLetter(to: { personId: number; address: string; name: string }, organisation: string, link: string): Letter {
  return {
    personId: to.personId,
    address: to.address,
    subject: `Sign in to ${organisation}`,
    body: `${greeting(to.name)}\n\nthis link signs you in to ${organisation} once, within 24 hours; then you can choose a new password:\n\n${link}\n\nIf you did not ask for it, leave it: nothing has changed.\n`,
  };
}
