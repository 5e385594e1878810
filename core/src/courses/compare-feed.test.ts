import fc from 'fast-check';
import { compareFeed, type FeedCourse, type KnownCourse } from './compare-feed.ts';

const activity = (id: string, title = id, scored = false) => ({ id, title, scored });
const offered = (id: string, more: Partial<FeedCourse> = {}): FeedCourse => ({
  id,
  title: `Course ${id}`,
  units: [{ id: 'u1', title: 'Begin', activities: [activity('a1')] }],
  ...more,
});
let next = 100;
/** What is here after a course was taken as it is offered. */
const taken = (course: FeedCourse, more: Partial<KnownCourse> = {}): KnownCourse => ({
  id: ++next,
  externalId: course.id,
  name: course.title,
  code: course.code ?? null,
  subject: course.subject ?? null,
  description: course.description ?? null,
  archived: false,
  units: course.units.map((unit) => ({
    id: ++next,
    externalId: unit.id,
    name: unit.title,
    activities: unit.activities.map((each) => ({ id: ++next, externalId: each.id, name: each.title, scored: each.scored, isOurs: false })),
  })),
  ...more,
});

test('new, changed, gone and the same are told apart; what the platform does not say stays', () => {
  const [one, two, three] = [offered('1'), offered('2'), offered('3')];
  const here = [taken(one, { code: 'OURS', subject: 'Ropes' }), taken(two), taken(three), taken(offered('4'), { archived: true })];
  const found = compareFeed([one, { ...two, title: 'Renamed' }, offered('5')], here);
  expect(found.same).toBe(1);
  expect(found.changed.map(({ known, fields, values }) => [known.id, fields, values])).toEqual([
    [here[1]?.id, ['name'], { name: 'Renamed' }],
  ]);
  expect(found.fresh.map(({ id }) => id)).toEqual(['5']);
  expect(found.gone.map(({ externalId }) => externalId)).toEqual(['3']);
  // What was archived because it was gone is taken up again when it is offered again.
  expect(compareFeed([offered('4')], here.slice(3)).changed).toMatchObject([{ fields: ['archived'], values: { archived: false } }]);
});

test('a course that was typed in here is known by its code, else by its name, and then by the platform’s number', () => {
  const byHand = (more: Partial<KnownCourse>) =>
    taken(offered('x'), {
      externalId: null,
      units: [
        { id: 7, externalId: null, name: 'begin', activities: [{ id: 8, externalId: null, name: 'A1', scored: false, isOurs: false }] },
      ],
      ...more,
    });
  const found = compareFeed(
    [offered('1', { code: 'vhf-1' }), offered('2', { title: 'Night watch' })],
    [byHand({ id: 1, code: 'VHF-1', name: 'Radio' }), byHand({ id: 2, name: 'night  Watch' }), byHand({ id: 3, name: 'Another' })],
  );
  expect(found.changed.map(({ known }) => known.id)).toEqual([1, 2]);
  expect(found.changed[0]?.units).toMatchObject([{ id: 7, externalId: 'u1', activities: [{ id: 8, externalId: 'a1' }] }]);
  expect([found.fresh, found.gone]).toEqual([[], []]);
});

test('units and activities keep who they are when they are renamed, moved and put in another order; what was made here stays behind', () => {
  const before = taken(
    offered('1', {
      units: [
        { id: 'u1', title: 'One', activities: [activity('a1'), activity('a2')] },
        { id: 'u2', title: 'Two', activities: [activity('a3')] },
      ],
    }),
  );
  const [one, two] = before.units;
  const own = {
    id: 5,
    externalId: null,
    name: 'Own',
    activities: [{ id: 6, externalId: null, name: 'By hand', scored: true, isOurs: true }],
  };
  // An activity that is marked here keeps the name that it has here.
  const marked = {
    ...before,
    units: before.units.map((unit) => ({ ...unit, activities: unit.activities.map((each) => ({ ...each, isOurs: true })) })),
  };
  const renamed = { id: 'u1', title: 'One', activities: [activity('a1', 'Else'), activity('a2', 'Else')] };
  expect(compareFeed([offered('1', { units: [renamed, { id: 'u2', title: 'Two', activities: [activity('a3')] }] })], [marked]).same).toBe(
    1,
  );
  const after = offered('1', {
    units: [
      { id: 'u2', title: 'Two, first', activities: [activity('a1', 'Moved'), activity('a3')] },
      { id: 'u3', title: 'Three', activities: [activity('a9')] },
    ],
  });
  const [changed] = compareFeed([after], [{ ...before, units: [...before.units, own] }]).changed;
  expect(changed?.units.map(({ id, name, activities }) => [id, name, activities.map((each) => each.id)])).toEqual([
    [two?.id, 'Two, first', [one?.activities[0]?.id, two?.activities[0]?.id]],
    [null, 'Three', [null]],
    [5, 'Own', [6]],
  ]);
});

test('what was taken as it is offered is the same when it is offered again, whatever was here before', () => {
  const name = fc.constantFrom('One', 'Two', 'Three', 'Four');
  const anActivity = fc.record({ id: fc.integer({ min: 1, max: 9 }).map(String), title: name, scored: fc.boolean() });
  const someUnits = fc.uniqueArray(
    fc.record({
      id: fc.integer({ min: 1, max: 6 }).map(String),
      title: name,
      activities: fc.uniqueArray(anActivity, { selector: ({ id }) => id, minLength: 1, maxLength: 4 }),
    }),
    { selector: ({ id }) => id, minLength: 1, maxLength: 4 },
  );
  /** An activity has its number once in a course. */
  const course = fc.tuple(name, someUnits).map(([title, list]) => (id: string): FeedCourse => {
    const seen = new Set<string>();
    const own = list.map((unit) => ({ ...unit, activities: unit.activities.filter((each) => !seen.has(each.id) && seen.add(each.id)) }));
    return { id, title: `${title} ${id}`, units: own.filter(({ activities }) => activities.length > 0) };
  });
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 1, max: 5 }).map(String), { maxLength: 4 }),
      fc.array(course, { minLength: 5, maxLength: 5 }),
      fc.array(course, { minLength: 5, maxLength: 5 }),
      (numbers, was, is) => {
        const here = numbers.map((id, index) => taken(was[index]?.(id) ?? offered(id)));
        const feed = ['1', '2', '3', '4'].map((id, index) => is[index]?.(id) ?? offered(id));
        const found = compareFeed(feed, here);
        expect(found.fresh.length + found.changed.length + found.same).toBe(feed.length);
        const then = [
          ...found.fresh.map((each) => taken(each)),
          ...here
            .filter((each) => !found.gone.includes(each))
            .map((each) => {
              const turned = found.changed.find(({ known }) => known === each);
              return turned
                ? {
                    ...each,
                    ...turned.values,
                    units: turned.units.map((unit) => ({
                      ...unit,
                      id: unit.id ?? ++next,
                      activities: unit.activities.map((own) => ({ ...own, id: own.id ?? ++next, isOurs: false })),
                    })),
                  }
                : each;
            }),
        ];
        expect(compareFeed(feed, then)).toEqual({ fresh: [], changed: [], gone: [], same: feed.length });
        for (const { units } of then) {
          const all = units.flatMap((unit) => [unit.id, ...unit.activities.map(({ id }) => id)]);
          expect(new Set(all).size).toBe(all.length);
        }
      },
    ),
    { numRuns: 400 },
  );
});
