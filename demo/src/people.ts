import { addDays, type Day, detectColumns, foldName, mapRows, readTable, signInName } from '@gate-roster/core';
import type { Random } from './random.ts';
import { familyNames, givenNames, type PlacedGroup, tagNames } from './world.ts';

export interface DemoPerson {
  id: number;
  givenName: string;
  familyName: string;
  email: string | null;
  signInName: string;
  idNumber: string | null;
  state: 'active' | 'paused';
  role: 'administrator' | 'none';
  memberships: { groupId: number; since: Day; firstDay: Day | null; lastDay: Day | null; cameBy: 'file' | 'hand' }[];
  tags: string[];
  /** Days ago; null: never. */
  activeDaysAgo: number | null;
}

export interface Named {
  administrator: DemoPerson;
  leaders: { person: DemoPerson; groupId: number; preset: 'head' | 'helper' }[];
  learner: DemoPerson;
}

/** Everybody of the demo world. Made in a fixed order from the seed, so the same on every run. */
export function makePeople(
  random: Random,
  groups: readonly PlacedGroup[],
  today: Day,
  intake: Uint8Array,
): { people: DemoPerson[]; named: Named } {
  const people: DemoPerson[] = [];
  const signInNames = new Set<string>(['mirela', 'ottoline', 'bao']);
  const emails = new Set<string>();
  const groupAt = (path: string): PlacedGroup => {
    const found = groups.find((group) => group.path === path);
    if (!found) throw new RangeError(`no group ${path}`);
    return found;
  };

  const add = (givenName: string, familyName: string, more: Partial<DemoPerson> = {}): DemoPerson => {
    const address = `${foldName(givenName)}.${foldName(familyName)}`;
    let email = `${address}@brannoch.example`;
    for (let next = 2; emails.has(email); next++) email = `${address}${next}@brannoch.example`;
    emails.add(email);
    const name =
      more.signInName ??
      signInName(
        { givenName, familyName },
        (candidate) => signInNames.has(candidate),
        () => random.whole(0, 99),
      );
    signInNames.add(name);
    const id = people.length + 1;
    const person: DemoPerson = {
      id,
      givenName,
      familyName,
      email,
      signInName: name,
      idNumber: `BR-${String(id).padStart(4, '0')}`,
      state: 'active',
      role: 'none',
      memberships: [],
      tags: [],
      activeDaysAgo: random.chance(0.9) ? Math.floor(random.next() ** 2 * 60) : null,
      ...more,
    };
    people.push(person);
    return person;
  };
  const joined = (groupId: number): DemoPerson['memberships'][number] => ({
    groupId,
    since: addDays(today, -random.whole(8, 700)),
    firstDay: null,
    lastDay: null,
    cameBy: random.chance(0.7) ? 'file' : 'hand',
  });

  const administrator = add('Mirela', 'Aasen', { role: 'administrator', signInName: 'mirela', activeDaysAgo: 0 });
  const gullhaven = groupAt('North Reach/Gullhaven').id;
  const leaders: Named['leaders'] = [
    { person: add('Ottoline', 'Brandt', { signInName: 'ottoline', activeDaysAgo: 0 }), groupId: gullhaven, preset: 'head' },
    { person: add('Sefu', 'Marangoz'), groupId: gullhaven, preset: 'helper' },
  ];
  for (const group of groups) {
    const depth = group.path === '' ? 0 : group.path.split('/').length;
    if (group.id !== gullhaven && (depth === 1 || depth === 2))
      leaders.push({ person: add(random.pick(givenNames), random.pick(familyNames)), groupId: group.id, preset: 'head' });
  }
  const learner = add('Bao', 'Petrossian', {
    signInName: 'bao',
    email: null,
    activeDaysAgo: 1,
    memberships: [joined(groupAt('North Reach/Gullhaven/Cadets').id), joined(groupAt('North Reach/Gullhaven/Inshore crew').id)].map(
      (held) => ({ ...held, since: addDays(today, -60) }),
    ),
  });

  for (const group of groups) {
    for (let count = 0; count < group.plan.people; count++) {
      const person = add(random.pick(givenNames), random.pick(familyNames), { memberships: [joined(group.id)] });
      if (group.plan.young) Object.assign(person, { email: null });
      if (random.chance(0.35)) person.tags.push(random.pick(tagNames));
      if (random.chance(0.12)) person.tags.push(...tagNames.filter((tag) => tag !== person.tags[0] && random.chance(0.15)));
      if (random.chance(0.07)) person.memberships.push(joined(secondCrew(random, groups, group).id));
      if (random.chance(0.012)) person.state = 'paused';
      else if (random.chance(0.008))
        for (const held of person.memberships) Object.assign(held, { firstDay: addDays(today, random.whole(4, 40)) });
      else if (random.chance(0.02))
        for (const held of person.memberships) Object.assign(held, { lastDay: addDays(today, random.whole(10, 200)) });
    }
  }
  addKnownOfIntake(people, add, joined, groupAt, intake);
  return { people, named: { administrator, leaders, learner } };
}

/** Somebody in two crews is mostly in two of the same station. */
function secondCrew(random: Random, groups: readonly PlacedGroup[], first: PlacedGroup): PlacedGroup {
  const near = groups.filter((group) => group.parentId === first.parentId && group.id !== first.id && group.plan.people > 0);
  return random.pick(
    near.length > 0 && random.chance(0.8) ? near : groups.filter((group) => group.id !== first.id && group.plan.people > 0),
  );
}

/** Some people of the autumn intake are known already: they join a further group, or a detail of theirs has changed. */
function addKnownOfIntake(
  people: readonly DemoPerson[],
  add: (given: string, family: string, more: Partial<DemoPerson>) => DemoPerson,
  joined: (groupId: number) => DemoPerson['memberships'][number],
  groupAt: (path: string) => PlacedGroup,
  intake: Uint8Array,
): void {
  const table = readTable(intake);
  if ('problem' in table) throw new Error(table.problem);
  const rows = mapRows(
    table,
    true,
    detectColumns(table).columns.map(({ field }) => field),
  );
  const known = rows.filter(({ row, cells }) => row >= 180 && row <= 211 && row !== 199 && cells.email);
  known.forEach(({ cells }, index) => {
    const group = (cells.group ?? '')
      .split('>')
      .map((part) => part.trim())
      .join('/');
    const isChange = index >= known.length - 8;
    add(cells.givenName ?? '', cells.familyName ?? '', {
      idNumber: cells.idNumber ?? null,
      email: isChange ? `${foldName(cells.familyName ?? '')}.${people.length}@old-post.example` : (cells.email ?? null),
      memberships: [
        joined(
          groupAt(
            isChange
              ? `North Reach/${group}`
              : group.startsWith('Penmarrow')
                ? 'North Reach/Stacks Point/Shore crew'
                : 'North Reach/Penmarrow/Inshore crew',
          ).id,
        ),
      ],
    });
  });
}
