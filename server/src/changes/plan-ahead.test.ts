import type { Change } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { everybodyIn } from '../testing/everybody-in.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { planChange } from './apply.ts';
import { lookOf } from './look.ts';
import { planAhead, type PlannedAhead, stillHolds } from './plan-ahead.ts';

/* Plans that are made before the roster lock is held: under it they are taken only while nothing they speak of has changed. */

const [northReach, gullhaven, inshore] = [2, 3, 4];
const elsewhere = 20;
let site: Site;
let mirela: Client;
let actor: SignedIn;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  const { personId } = await mirela.call('me', {});
  const found = await maybeActor(site.deps.db, personId, new Date());
  if (!found) throw new Error('nobody');
  actor = found;
});
afterEach(() => site.stop());

const move: Change = { kind: 'move-groups', groupIds: [gullhaven], intoId: elsewhere };
const planned = async (change: Change): Promise<PlannedAhead> => {
  const ahead = await planAhead(
    site.deps.db,
    actor.personId,
    () => new Date(),
    async (tx, by) => {
      const plan = await planChange(tx, by, change, site.url, { isAhead: true });
      return { plan, seen: await lookOf(tx, by, plan.effects) };
    },
  );
  if (!ahead) throw new Error('not planned');
  return ahead;
};
const holds = (ahead: PlannedAhead, by = actor): Promise<boolean> => site.deps.db.transaction((tx) => stillHolds(tx, by, ahead));
const outsiders = async (count: number): Promise<number[]> =>
  (
    await execute<{ id: number }>(
      site.databaseUrl,
      `select p.id::int as id from person p where p.counted and not exists (select 1 from set_in_branch b where b.set_id = p.set_id and b.ancestor_id in (${gullhaven}, ${elsewhere})) order by 1 limit ${count}`,
    )
  ).map(({ id }) => id);

/** Seats and places in line that were ever given. */
const seatsGiven = async (): Promise<number> =>
  (
    await execute<{ rows: number }>(
      site.databaseUrl,
      `select (select count(*) from seat)::int + (select count(*) from seat_line)::int as rows`,
    )
  )[0]?.rows ?? 0;

test('a plan says what is said later, and holds while nothing happens', async () => {
  const ahead = await planned(move);
  expect(ahead.seen).toEqual(await mirela.call('look', { body: { change: move } }));
  expect(ahead.plan.effects.groups.moved).toBeGreaterThan(3);
  expect(await holds(ahead)).toBe(true);
  expect(await holds(ahead, { ...actor, today: addDays(actor.today, 1) })).toBe(false);
  expect(await holds({ ...ahead, madeAt: ahead.madeAt - 61_000 })).toBe(false);
});

test('one that is older holds only while nobody of its branches works', async () => {
  const made = await planned(move);
  const older = { ...made, madeAt: made.madeAt - 6000 };
  const workedIn = async (group: number, notIn: number): Promise<unknown> =>
    execute(
      site.databaseUrl,
      `insert into standing_mark (set_id) select min(set_id) from set_in_branch where ancestor_id = ${group}
         and set_id not in (select set_id from set_in_branch where ancestor_id = ${notIn})`,
    );
  expect(await holds(older)).toBe(true);
  await workedIn(elsewhere, gullhaven);
  expect(await holds(older)).toBe(true);
  await workedIn(gullhaven, elsewhere);
  expect([await holds(older), await holds(made)]).toEqual([false, true]);
});

test('somebody who comes into the branch, now or later, makes it void; who comes in elsewhere does not', async () => {
  const [comes = 0, other = 0] = await outsiders(2);
  const plain = await planned(move);
  const seats = await seatsGiven();
  await mirela.apply({ kind: 'add-members', groupId: elsewhere, personIds: [other], firstDay: null, lastDay: null });
  expect(await seatsGiven()).toBe(seats);
  expect(await holds(plain)).toBe(true);
  const ahead = await planned(move);
  await mirela.apply({ kind: 'add-members', groupId: inshore, personIds: [comes], firstDay: null, lastDay: null });
  expect(await holds(ahead)).toBe(false);
  const again = await planned(move);
  expect(await holds(again)).toBe(true);
  const later = { kind: 'add-members' as const, groupId: inshore, personIds: [other], firstDay: addDays(actor.today, 9), lastDay: null };
  await mirela.apply(later);
  expect(await holds(again)).toBe(false);
});

test('somebody of the branch who comes into another group besides, or is counted no more, makes it void', async () => {
  const [member] = await execute<{ id: number }>(
    site.databaseUrl,
    `select min(m.person_id)::int as id from membership m join person p on p.id = m.person_id where p.counted and m.group_id = ${inshore} and m.until_at is null
       and not exists (select 1 from membership o where o.person_id = m.person_id and o.group_id = ${elsewhere} and o.until_at is null)`,
  );
  const ahead = await planned(move);
  const seats = await seatsGiven();
  await mirela.apply({ kind: 'add-members', groupId: elsewhere, personIds: [member?.id ?? 0], firstDay: null, lastDay: null });
  expect(await seatsGiven()).toBe(seats);
  expect(await holds(ahead)).toBe(false);
  const again = await planned(move);
  expect(await holds(again)).toBe(true);
  await execute(site.databaseUrl, `update person set counted = not counted where id = ${member?.id ?? 0}`);
  expect(await holds(again)).toBe(false);
});

test('any change that holds the lock alone makes it void, wherever it was made', async () => {
  const ahead = await planned(move);
  const [person = 0] = await outsiders(1);
  await mirela.apply({ kind: 'tag-people', groupId: 1, personIds: [person], add: ['Swift water'], remove: [] });
  expect(await holds(ahead)).toBe(true);
  await mirela.apply({ kind: 'edit-person', personId: person, values: { idNumber: 'SW-1' } });
  expect(await holds(ahead)).toBe(false);
});

test('what cannot be planned is said under the lock: a group in itself, and a branch that is somebody else’s', async () => {
  const inItself: Change = { kind: 'move-groups', groupIds: [northReach], intoId: gullhaven };
  await expect(mirela.apply(inItself)).rejects.toThrow('409');
  const ottoline = await site.as('ottoline');
  await expect(ottoline.apply({ kind: 'move-groups', groupIds: [elsewhere], intoId: gullhaven })).rejects.toThrow('404');
});

test('many who leave, move or pause are planned ahead too: void once one of them comes into another group, or is nobody’s', async () => {
  const { ids } = await mirela.call('chosenNumbers', { body: everybodyIn(inshore) });
  const changes: Change[] = [
    { kind: 'remove-members', groupId: inshore, personIds: ids },
    { kind: 'move-members', fromId: inshore, intoId: elsewhere, personIds: ids },
    { kind: 'set-person-state', personIds: ids, state: 'paused', firstDay: null, lastDay: null },
  ];
  const ahead = await Promise.all(changes.map(planned));
  const looks = await Promise.all(changes.map((change) => mirela.call('look', { body: { change } })));
  expect(ahead.map(({ seen }) => seen)).toEqual(looks);
  const hold = () => Promise.all(ahead.map((each) => holds(each)));
  expect(await hold()).toEqual([true, true, true]);
  const [comes = 0] = ids;
  await mirela.apply({ kind: 'add-members', groupId: 2, personIds: [comes], firstDay: null, lastDay: null });
  expect(await hold()).toEqual([false, false, false]);
  // Somebody in no group is in no branch that could be looked at again.
  await execute(site.databaseUrl, `update membership set until_at = now() where person_id = ${comes} and until_at is null`);
  await expect(planned({ kind: 'set-person-state', personIds: ids, state: 'ended', firstDay: null, lastDay: null })).rejects.toThrow(
    'not planned',
  );
});
