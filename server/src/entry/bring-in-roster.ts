import type { Change } from '@gate-roster/contract';
import {
  addTo,
  type CheckedRoster,
  countOutcomes,
  extendTree,
  fileLimits,
  may,
  membershipSetKey,
  lookAtMoves,
  movingClasses,
  type MovingLearner,
  noEffects,
  type RosterPerson,
  type RosterRow,
  rosterSteps,
  speakingBranch,
  type Tree,
  type WishedGroup,
} from '@gate-roster/core';
import { setImmediate } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learners, peopleWithGrants, rulesOf } from '../access/load-rules.ts';
import { type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { withStatus } from '../changes/shift.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { ProblemError } from '../http/problem.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { seatsOfLook } from '../seats/seats-of-look.ts';
import { knownForRoster, presetsToGive } from './roster-facts.ts';
import { mostPasswords, rowsOfFile } from './roster-files.ts';
import { checkShare, type Roster } from './roster-plan.ts';
import { writeRoster } from './write-roster.ts';

type BringIn = Extract<Change, { kind: 'bring-in-roster' }>;

/** Percent of a group that a replaced list may take out, unless somebody says otherwise. */
const mostLeaving = 20;
/** Rows that need a look are worth showing so far. */
const mostShown = 500;
/** Brings in the good rows of a roster, all or nothing. */
export const planBringInRoster: Planner<'bring-in-roster'> = async (context, change) => {
  const { db, actor } = context;
  const path = await pathTo(db, actor, change.into, 'managePeople');
  const isLeaders = actor.role !== 'administrator';
  const issuer = speakingBranch(actor, 'managePeople', { path: path.map(({ id }) => id) }) ?? path[0]?.id ?? change.into;
  const list = change.fileId ? await rowsOfFile(db, actor.personId, change.fileId) : change.rows;
  if (list.length === 0 || list.length > fileLimits.rows || new Set(list.map(({ row }) => row)).size < list.length)
    throw new ProblemError('bad-request', { where: [{ place: 'body.change.rows', what: 'Row numbers stand once each' }] });

  const { tree, made } = extendTree(context.tree, change.into, mayShape(context, change) ? (change.newGroups ?? []) : []);
  const checked = await check(context, change, list, tree, issuer);
  const { people } = checked;
  const leaving = change.mode === 'replace' ? await leavingOf(context, change, checked) : [];
  const roster: Roster = {
    issuer,
    byLeader: isLeaders,
    cameBy: change.fileName === null ? 'hand' : 'file',
    into: change.into,
    fileId: change.fileId ?? null,
    people,
    newGroups: usedGroups(made, checked.people),
    leaving,
    write: change.write ?? null,
  };
  const effects = { ...noEffects(), ...(await accessEffects({ ...context, tree }, people, leaving)) };
  const counts = countOutcomes(checked.rows);
  effects.rows = checked.rows.filter(({ outcome }) => outcome === 'needs a look').slice(0, mostShown);
  effects.rowCounts = counts;
  effects.newPeople = people.filter(({ personId }) => personId === null).length;
  const written = roster.write ? people.filter(({ personId, email }) => personId === null && email !== null).length : 0;
  // Whose address a leader gives is first asked whether the account is theirs.
  effects.letters = isLeaders ? 0 : written;
  effects.confirming = isLeaders ? written : 0;
  effects.changedPeople = people.flatMap(({ personId, changes, tags }) =>
    personId !== null && changes.length + tags.length > 0 ? [personId] : [],
  );
  effects.joins = joinsOf(people);
  effects.leaves = leavesOf(leaving);
  effects.newGroups = roster.newGroups.map(({ id, name }) => ({ id, name }));
  effects.groups = { ...effects.groups, made: roster.newGroups.length };
  effects.conflicts = await conflictsOf(db, change, checked, roster);
  const groups = new Set([
    change.into,
    ...people.flatMap(({ memberships }) => memberships.map(({ groupId }) => groupId)),
    ...leaving.map(({ group_id }) => group_id),
  ]);

  return {
    effects,
    groups: [...groups].filter((id) => id > 0),
    summary: summaryOf({
      groups: [change.into],
      fileName: change.fileName,
      counts: {
        newPeople: effects.newPeople,
        changed: people.filter(({ personId, memberships }) => personId !== null && memberships.length === 0).length,
        leftOut: counts['needs a look'],
        joining: people.filter(({ personId, memberships }) => personId !== null && memberships.length > 0).length,
        left: new Set(leaving.map(({ person_id }) => person_id)).size,
      },
    }),
    onlyAdds:
      roster.leaving.length + roster.newGroups.length === 0 && people.every(({ leads, changes }) => leads.length + changes.length === 0),
    write: (tx, writer) => writeRoster(tx, writer, context, roster),
  };
};

const mayShape = ({ actor, tree }: PlanContext, { into }: BringIn): boolean => may(actor, 'shapeGroups', { path: tree.path(into) });

async function check(
  context: PlanContext,
  change: BringIn,
  list: readonly RosterRow[],
  tree: Tree,
  issuer: number,
): Promise<CheckedRoster> {
  const { db, actor } = context;
  const of = (field: 'email' | 'idNumber' | 'signInName'): string[] =>
    list.flatMap(({ cells }) => (cells[field]?.trim() ? [cells[field].trim().normalize('NFC')] : []));
  const { known, takenSignInNames, takenIdNumbers } = await knownForRoster(
    db,
    actor,
    context.tree,
    issuer,
    { emails: of('email'), idNumbers: of('idNumber'), signInNames: of('signInName') },
    change.into,
  );
  const given = presetsToGive(actor, context.tree, change.into);
  return stepByStep(
    rosterSteps(list, {
      tree,
      into: change.into,
      hasGroupColumn: change.hasGroupColumn,
      dateOrder: change.dateOrder,
      known,
      takenSignInNames: new Set(takenSignInNames),
      takenIdNumbers: new Set(takenIdNumbers),
      mayAppoint: (preset) => given.includes(preset),
      declined: new Set(change.declined),
    }),
    async (done) => context.told?.((done / list.length) * checkShare),
  );
}

/** Lets others have their turn after each step: a large file takes seconds to check. */
async function stepByStep<T>(steps: Generator<number, T>, told: (done: number) => Promise<void> | undefined): Promise<T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    await told(step.value);
    await setImmediate();
  }
}

/** Of the groups that would be made those that somebody goes into, with what lies above them. */
function usedGroups(made: readonly WishedGroup[], people: readonly RosterPerson[]): WishedGroup[] {
  const used = new Set(people.flatMap(({ memberships, leads }) => [...memberships, ...leads].map(({ groupId }) => groupId)));
  for (const { id, parentId } of made.toReversed()) if (used.has(id)) used.add(parentId);
  return made.filter(({ id }) => used.has(id));
}

/**
 * Memberships of the scope that the list does not name; without a column for groups the scope is the one group. Only of
 * people who count today: who is paused or begins later stands in no list that one has exported, and stays.
 */
async function leavingOf({ db, today }: PlanContext, change: BringIn, { listed }: CheckedRoster): Promise<Roster['leaving']> {
  const named = new Set(listed.flatMap(({ personId, groups }) => groups.map((groupId) => `${personId}/${groupId}`)));
  const standing = await rows<Roster['leaving'][number]>(
    db,
    sql`
    select m.row_id, m.person_id, m.group_id from membership m join person p on p.id = m.person_id where m.until_at is null and p.counted
      and coalesce(m.first_day <= ${today}, true) and coalesce(m.last_day >= ${today}, true) and m.group_id in (${groupsOf(change.into, change.hasGroupColumn)}) order by m.row_id`,
  );
  return standing.filter(({ person_id, group_id }) => !named.has(`${person_id}/${group_id}`));
}

async function conflictsOf(db: Queryable, change: BringIn, checked: CheckedRoster, roster: Roster): Promise<Plan['effects']['conflicts']> {
  const conflicts: Plan['effects']['conflicts'] = [];
  const bad = checked.rows.filter(({ outcome }) => outcome === 'needs a look').length;
  if (checked.people.length + roster.leaving.length === 0) conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const passwords = roster.people.filter(({ personId, password }) => personId === null && password !== null).length;
  if (passwords > mostPasswords) conflicts.push({ code: 'too many passwords', blocks: true, count: passwords });
  if (change.mode !== 'replace') return conflicts;
  // A row that is not understood may mean somebody who would be taken out.
  if (bad > 0) conflicts.push({ code: 'list not whole', blocks: true, count: bad });
  const [scope] = await rows<{ people: number }>(
    db,
    sql`select count(*)::int as people from person p where ${isCounted(change.into, change.hasGroupColumn)}`,
  );
  const leavers = new Set(roster.leaving.map(({ person_id }) => person_id)).size;
  if (leavers * 100 > (scope?.people ?? 0) * (change.mostLeaving ?? mostLeaving))
    conflicts.push({ code: 'too many leave', blocks: true, count: leavers });
  return conflicts;
}

async function accessEffects(
  context: PlanContext,
  people: readonly RosterPerson[],
  leaving: Roster['leaving'],
): Promise<Pick<Plan['effects'], 'gains' | 'loses' | 'still' | 'becomeDone' | 'noLongerDone' | 'newcomers' | 'seats'>> {
  const newcomers = classesOfNew(people);
  const arriving = newcomers.map(({ memberships, rows: { length } }, index): MovingLearner => ({
    who: { newcomers: index },
    people: length,
    before: null,
    after: { personId: null, active: true, firstDay: null, lastDay: null, memberships },
  }));
  const joining = new Map(
    people.flatMap((person) => (person.personId !== null && person.memberships.length > 0 ? [[person.personId, person] as const] : [])),
  );
  const left = new Set(leaving.map(({ person_id, group_id }) => `${person_id}/${group_id}`));
  const about = await grantsByCourse(context.db, null);
  const concerned = new Set([...joining.keys(), ...leaving.map(({ person_id }) => person_id)]);
  const moving = movingClasses(
    (await learners(context.db, [...concerned])).map((learner) => ({
      personId: learner.personId,
      before: asSeen(learner, context.seen),
      after: asSeen(
        {
          ...learner,
          memberships: [
            ...learner.memberships.filter(({ groupId }) => !left.has(`${learner.personId}/${groupId}`)),
            ...(joining.get(learner.personId)?.memberships ?? []),
          ],
        },
        context.seen && ((id) => id < 0 || (context.seen?.(id) ?? true)),
      ),
    })),
    peopleWithGrants(about),
  );
  const all = [...arriving, ...moving];
  return {
    ...(await withStatus(context.db, lookAtMoves(rulesOf(context.tree, about), all, context.today))),
    newcomers: newcomers.map(({ rows: { length } }) => length),
    seats: await seatsOfLook(context, {
      tree: context.tree,
      courses: about,
      moving: all,
      rowsOfNew: newcomers.map((each) => each.rows),
      rowOf: new Map([...joining].map(([id, person]) => [id, person.rows[0] ?? 0])),
    }),
  };
}

/** New people of the same groups and days follow the same rules; of each, the first row. */
function classesOfNew(people: readonly RosterPerson[]): { memberships: RosterPerson['memberships']; rows: number[] }[] {
  const classes = new Map<string, { memberships: RosterPerson['memberships']; rows: number[] }>();
  for (const {
    personId,
    memberships,
    rows: [row = 0],
  } of people) {
    if (personId !== null) continue;
    const key = `${membershipSetKey(memberships)} from ${memberships.map(({ firstDay }) => firstDay ?? '').join()}`;
    const known = classes.get(key);
    if (known) known.rows.push(row);
    else classes.set(key, { memberships, rows: [row] });
  }
  return [...classes.values()];
}

function joinsOf(people: readonly RosterPerson[]): Plan['effects']['joins'] {
  const joins = new Map<number, { persons: number[]; people: number }>();
  for (const { personId, memberships } of people) {
    for (const { groupId } of memberships) {
      const join = joins.get(groupId) ?? { persons: [], people: 0 };
      join.people++;
      if (personId !== null) join.persons.push(personId);
      joins.set(groupId, join);
    }
  }
  return [...joins].map(([groupId, { persons, people: count }]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: count }));
}

function leavesOf(leaving: Roster['leaving']): Plan['effects']['leaves'] {
  const leaves = new Map<number, number[]>();
  for (const { person_id, group_id } of leaving) addTo(leaves, group_id, person_id);
  return [...leaves].map(([groupId, persons]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: persons.length }));
}
