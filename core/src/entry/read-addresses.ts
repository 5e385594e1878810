import { emailKey, emailProblem, type EmailProblem } from './email.ts';
import { type NameAndAddress, readPerson } from './read-people.ts';

export interface ReadAddresses {
  people: NameAndAddress[];
  /** What stood there and is no address. */
  problems: { text: string; problem: EmailProblem }[];
  /** Addresses that stood there more than once; they count once. */
  repeated: number;
}

/**
 * Addresses in any form people have them: `Name <a@b>`, after commas or semicolons, a line each, a column of a spreadsheet.
 * @example readAddresses('Ada Lind <ada@x.example>, bo@x.example; bo@x.example').people.length // 2
 */
export function readAddresses(text: string): ReadAddresses {
  const found = new Map<string, NameAndAddress>();
  const problems: ReadAddresses['problems'] = [];
  let repeated = 0;
  for (const part of partsOf(text)) {
    const person = readPerson(part);
    const problem = person.email === '' ? 'no at' : emailProblem(person.email);
    if (problem) {
      problems.push({ text: part, problem });
      continue;
    }
    const key = emailKey(person.email);
    if (found.has(key)) repeated++;
    else found.set(key, person);
  }
  return { people: [...found.values()], problems, repeated };
}

/** A comma parts two people only where an address stands before it; else it parts a name: `Lind, Ada <ada@x.example>`. */
function partsOf(text: string): string[] {
  return text
    .split(/[\n\r;]+/u)
    .flatMap((line) => line.split(/(?<=@[^\s,]*\s*>?)\s*,/u))
    .flatMap((part) => (part.match(/@/gu)?.length === 1 || !/\s/u.test(part.trim()) ? [part] : splitAtAddresses(part)))
    .map((part) => part.replace(/^[\s,]+|[\s,]+$/gu, ''))
    .filter((part) => part !== '');
}

/** `a@x.example b@x.example` on one line. */
const splitAtAddresses = (part: string): string[] => ((part.match(/@/gu)?.length ?? 0) > 1 ? part.split(/(?<=@[^\s,<>]+>?)\s+/u) : [part]);
