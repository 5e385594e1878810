import { type PersonName, splitFullName } from '../people/person-name.ts';

/** A name and an address as one line says them; either may be missing. */
export interface NameAndAddress extends PersonName {
  email: string;
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
