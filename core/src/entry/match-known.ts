import { addTo } from '../lists/add-to.ts';
import { foldName, sameName } from '../people/person-name.ts';
import type { DetailChange, KnownPerson, Problem, RosterFacts } from './check-roster.ts';
import { emailKey } from './email.ts';
import type { ReadRow } from './read-row.ts';

/** Who a row means among those who are known: by ID number, then by email, by sign-in name alone only where nothing contradicts. */
export function knownFinder(
  facts: Pick<RosterFacts, 'known' | 'takenSignInNames' | 'takenIdNumbers'>,
): (read: ReadRow) => { person: KnownPerson } | Problem | null {
  const by = (key: (person: KnownPerson) => string | null): Map<string, KnownPerson> =>
    new Map(facts.known.flatMap((person) => (key(person) === null ? [] : [[key(person) ?? '', person] as const])));
  /** An address identifies nobody by itself: several people may carry one. */
  const byEmail = new Map<string, KnownPerson[]>();
  for (const person of facts.known) if (person.email) addTo(byEmail, emailKey(person.email), person);
  const byIdNumber = by(({ idNumber }) => idNumber);
  const bySignInName = by(({ signInName }) => signInName && signInName.toLowerCase());
  return (read) => {
    const withId = read.idNumber === null ? undefined : byIdNumber.get(read.idNumber);
    const ofEmail = read.email === null ? [] : (byEmail.get(emailKey(read.email)) ?? []);
    const withEmail = withId && ofEmail.includes(withId) ? withId : ofEmail[0];
    const withName = read.signInName === null ? undefined : bySignInName.get(read.signInName.toLowerCase());
    if (!withId && ofEmail.length > 1) return { reason: { code: 'email of several' }, field: 'email' };
    if (read.idNumber !== null && !withId && facts.takenIdNumbers?.has(read.idNumber))
      return { reason: { code: 'ID number taken' }, field: 'idNumber' };
    if (withId && withEmail && withId !== withEmail) return { reason: { code: 'two known people' }, field: 'email' };
    const person = withId ?? withEmail;
    const isTaken = read.signInName !== null && facts.takenSignInNames.has(read.signInName.toLowerCase());
    if (person) {
      if (withName ? withName !== person : isTaken) return { reason: { code: 'sign-in name taken' }, field: 'signInName' };
      if (contradicts(read.idNumber, person.idNumber)) return { reason: { code: 'known by another number' }, field: 'idNumber' };
      if (!sharesName(read, person)) return { reason: { code: 'known by another name' }, field: withId ? 'idNumber' : 'email' };
      return { person };
    }
    if (!withName) return isTaken ? { reason: { code: 'sign-in name taken' }, field: 'signInName' } : null;
    const agrees =
      sameName(read, withName) &&
      !contradicts(read.idNumber, withName.idNumber) &&
      !contradicts(read.email && emailKey(read.email), withName.email && emailKey(withName.email));
    return agrees ? { person: withName } : { reason: { code: 'sign-in name taken' }, field: 'signInName' };
  };
}

const contradicts = (a: string | null, b: string | null): boolean => a !== null && b !== null && a !== b;

/** One of the two names may have changed, by marriage or a mended spelling; both at once is somebody else. */
const sharesName = (read: ReadRow, person: KnownPerson): boolean =>
  sameName({ ...read, familyName: '' }, { ...person, familyName: '' }) ||
  sameName({ ...read, givenName: '' }, { ...person, givenName: '' });

/** Details that the row would change; a blank cell changes nothing. */
export function detailChanges(person: KnownPerson, read: ReadRow): DetailChange[] {
  const texts = ['givenName', 'familyName', 'email', 'idNumber', 'signInName', 'guardianEmail'] as const;
  const changes = texts.flatMap((field): DetailChange[] => {
    const [before, after] = [person[field] ?? '', read[field] ?? ''];
    const alike =
      field === 'givenName' || field === 'familyName' ? before.normalize('NFC') === after : before.toLowerCase() === after.toLowerCase();
    return after === '' || alike ? [] : [{ field, before, after }];
  });
  if (read.nameHidden !== null && read.nameHidden !== person.nameHidden)
    changes.push({ field: 'nameHidden', before: person.nameHidden ? 'yes' : 'no', after: read.nameHidden ? 'yes' : 'no' });
  return changes;
}

/** An earlier row of the same person, or what contradicts it. */
export function rowFinder(): {
  find: (read: ReadRow) => { row: ReadRow } | Problem | null;
  /** An earlier row with given and family name turned round, where nothing else tells the two apart. */
  findTurned: (read: ReadRow) => Problem | null;
  keep: (read: ReadRow, first: ReadRow) => void;
} {
  const byName = new Map<string, ReadRow[]>();
  const nameOf = (givenName: string, familyName: string): string => `${foldName(givenName)}/${foldName(familyName)}`;
  const byEmail = new Map<string, ReadRow>();
  const byIdNumber = new Map<string, ReadRow>();
  const bySignInName = new Map<string, ReadRow>();
  return {
    find(read) {
      const withId = read.idNumber === null ? undefined : byIdNumber.get(read.idNumber);
      const withEmail = read.email === null ? undefined : byEmail.get(emailKey(read.email));
      const withName = read.signInName === null ? undefined : bySignInName.get(read.signInName.toLowerCase());
      const other = withId ?? withEmail ?? withName;
      if (!other) return null;
      const agrees = (a: string | null, b: string | null): boolean => a === null || b === null || emailKey(a) === emailKey(b);
      const isAgreeing =
        sameName(read, other) &&
        agrees(read.email, other.email) &&
        agrees(read.idNumber, other.idNumber) &&
        agrees(read.signInName, other.signInName);
      const isOne = [withId, withEmail, withName].every((each) => each === undefined || each === other);
      if (isAgreeing && isOne) return { row: other };
      if (sameName(read, other)) return { reason: { code: 'rows contradict', likeRow: other.row }, field: withId ? 'email' : 'idNumber' };
      if (withId) return { reason: { code: 'ID number of another row', likeRow: withId.row }, field: 'idNumber' };
      if (withEmail) return { reason: { code: 'email of another row', likeRow: withEmail.row }, field: 'email' };
      return { reason: { code: 'sign-in name of another row', likeRow: other.row }, field: 'signInName' };
    },
    findTurned(read) {
      if (foldName(read.givenName) === foldName(read.familyName) || read.givenName === '' || read.familyName === '') return null;
      const differs = (a: string | null, b: string | null): boolean => a !== null && b !== null && emailKey(a) !== emailKey(b);
      const other = byName
        .get(nameOf(read.familyName, read.givenName))
        ?.find(
          (each) =>
            !differs(each.email, read.email) && !differs(each.idNumber, read.idNumber) && !differs(each.signInName, read.signInName),
        );
      return other ? { reason: { code: 'names turned', likeRow: other.row }, field: 'familyName' } : null;
    },
    keep(read, first) {
      if (read === first) addTo(byName, nameOf(read.givenName, read.familyName), read);
      if (read.email && !byEmail.has(emailKey(read.email))) byEmail.set(emailKey(read.email), first);
      if (read.idNumber && !byIdNumber.has(read.idNumber)) byIdNumber.set(read.idNumber, first);
      if (read.signInName && !bySignInName.has(read.signInName.toLowerCase())) bySignInName.set(read.signInName.toLowerCase(), first);
    },
  };
}
