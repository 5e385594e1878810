import { type Filter } from '@gate-roster/core';
import { maybeActor } from '../accounts/actor.ts';
import { filterReader, KnownFitting } from '../filters/conditions.ts';
import { execute, type Site, startSite } from '../testing/site.ts';
import { peopleRows } from './list.ts';
import { matchingIds } from './matching.ts';

let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

const filter: Filter = [
  { part: 'status', of: ['done'] },
  { part: 'name hidden', is: false },
];
const parts = filter.filter(({ part }) => part === 'status') as never;

test.each(['name', '-name', '-active'] as const)(
  'pages of many who are known to fit, by %s, are those that the database would find, one after the other',
  async (sort) => {
    const { db } = site.deps;
    const [me] = await execute<{ id: number }>(
      site.databaseUrl,
      `select person_id::int as id from personal_now where sign_in_name = 'mirela'`,
    );
    const actor = await maybeActor(db, me?.id ?? 0, new Date());
    if (!actor) throw new Error('nobody reads');
    const reader = await filterReader(db, actor);
    const asked = { subgroups: 'yes', filter, sort, counted: 'yes', fits: 'yes' } as const;
    const fitting = await matchingIds(db, reader, 1, { ...asked, filter: parts });
    expect(fitting.length).toBeGreaterThan(300);
    const pages = async (known: KnownFitting | null): Promise<number[]> => {
      const found: number[] = [];
      for (let after: string | undefined; ;) {
        const { people, next } = await peopleRows(db, { ...reader, fitting: known }, 1, asked, { after, limit: 60 });
        found.push(...people.map(({ id }) => id));
        if (next === null) return found;
        after = next;
      }
    };
    // So many that they are not looked for by their ids.
    const many = new KnownFitting(parts, Float64Array.from(fitting), 1);
    expect(many.areFew).toBe(false);
    const found = await pages(many);
    expect(found).toEqual(await pages(null));
    expect(new Set(found).size).toBe(found.length);
  },
);
