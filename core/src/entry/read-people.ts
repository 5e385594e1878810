import { type PersonName, splitFullName } from '../people/person-name.ts';

/** A name and an address as one line says them; either may be missing. */
export interface NameAndAddress extends PersonName {
  email: string;
}

/**
 * Somebody meant by one line: by address, or by a sign-in name alone, which then stands in place of the address.
 * @example readWho('ottoline') // { givenName: '', familyName: '', email: 'ottoline' }
 */
export function readWho(line: string): NameAndAddress {
  const read = readPerson(line);
  return read.email === '' && !/\s/u.test(line.trim()) ? { givenName: '', familyName: '', email: line.trim() } : read;
}

/**
 * One person from what somebody typed or pasted: the address is what holds an @.
 * @example readPerson('Hana Petrossian <hana@brannoch.example>') // { givenName: 'Hana', familyName: 'Petrossian', email: 'hana@brannoch.example' }
 */
export function readPerson(line: string): NameAndAddress {
  const email = /[^\s<>;,]*@[^\s<>;]*[^\s<>;,.]?/u.exec(line)?.[0] ?? '';
  const rest = line
    .replace(email, '')
    .replace(/[<>;\t"]/gu, ' ')
    .replace(/[\s,]+$/u, '')
    .trim();
  return { ...splitFullName(rest), email };
}
