import type { Day } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { Random } from './random.ts';

/* A year of the log. It tells how the rows came about that the world is made of, so most of it can be looked at and undone. */

const days = 365;
const fileNames = ['crew-list.csv', 'new-starters.csv', 'station-roster.xlsx', 'spring-intake.csv', 'volunteers.csv'];

interface Entry {
  kind: string;
  actorId: number | null;
  at: string;
  groups: number[];
  summary: Record<string, unknown>;
  ruleId?: number;
  subjects: { kind: string; person_id?: number | null; group_id?: number | null; after_row: number }[];
}

interface Held {
  row_id: number;
  person_id: number;
  group_id: number;
  branch_id: number;
  came_by: string;
  month: Day;
  /** It is all that holds this person: the account came with it. */
  is_new: boolean;
  at: string;
  head_id: number | null;
  /** Who leads the region. */
  region_head_id: number | null;
}

/** After everything else: people, statements, licences and leaders are there. */
export async function loadLog(tx: Transaction, random: Random, { administrator, leaders }: Named, now: Date): Promise<void> {
  const all = async <T>(statement: ReturnType<typeof sql>): Promise<T[]> => (await tx.execute(statement)).rows as T[];
  const held = await all<Held>(sql`
    select m.row_id, m.person_id, m.group_id, b.ancestor_id as branch_id, m.came_by, m.from_at as at, date_trunc('month', m.from_at)::date::text as month,
      not exists (select 1 from membership o where o.person_id = m.person_id and o.row_id <> m.row_id) and not exists (select 1 from leadership o where o.person_id = m.person_id) as is_new,
      (select l.person_id from leadership l join group_branch x on x.ancestor_id = l.group_id where x.group_id = m.group_id and l.until_at is null order by x.depth limit 1) as head_id,
      (select l.person_id from leadership l where l.group_id = b.ancestor_id and l.until_at is null order by l.row_id limit 1) as region_head_id
    from membership m join group_branch b on b.group_id = m.group_id join group_branch r on r.group_id = b.ancestor_id and r.depth = 1
    where m.from_at > ${now.toISOString()}::timestamptz - make_interval(days => ${days}) and m.from_at < ${now.toISOString()}::timestamptz order by m.row_id`);
  const entries = [
    ...arrivals(random, held, administrator.id),
    ...(await settings(all, administrator.id)),
    ...(await byRules(all)),
    ...(await ordered(all)),
    ...acts(
      random,
      held,
      leaders.map(({ person }) => person.id),
      now,
    ),
  ].sort((a, b) => new Date(a.at).getTime() - new Date(b.at).getTime());
  const numbers = entries.map((_, index) => index + 1);
  const told = JSON.stringify(entries.map((entry, index) => ({ ...entry, id: numbers[index], requestId: randomUUID() })));
  await tx.execute(sql`
    insert into change_log (id, request_id, kind, actor_id, made_at, rule_id, summary) overriding system value
    select id, "requestId", kind, "actorId", at, "ruleId", jsonb_build_object('groups', '[]'::jsonb, 'courses', '[]'::jsonb, 'people', '[]'::jsonb, 'counts', '{}'::jsonb) || summary
    from jsonb_to_recordset(${told}::jsonb) as r(id bigint, "requestId" uuid, kind text, "actorId" bigint, at timestamptz, "ruleId" bigint, summary jsonb)`);
  await tx.execute(sql`
    insert into change_group (change_id, group_id) select distinct id, g::bigint
    from jsonb_to_recordset(${told}::jsonb) as r(id bigint, groups jsonb) cross join jsonb_array_elements_text(groups) g`);
  await tx.execute(sql`
    insert into change_subject (change_id, kind, person_id, group_id, after_row) select r.id, s.kind, s.person_id, s.group_id, s.after_row
    from jsonb_to_recordset(${told}::jsonb) as r(id bigint, subjects jsonb)
    cross join jsonb_to_recordset(subjects) as s(kind text, person_id bigint, group_id bigint, after_row bigint)`);
  await tx.execute(sql`
    update rule_act a set change_id = c.id from change_log c join change_subject s on s.change_id = c.id where c.rule_id = a.rule_id and s.person_id = a.person_id`);
  await tx.execute(sql`select setval(pg_get_serial_sequence('change_log', 'id'), ${Math.max(1, entries.length)})`);
}

/** Who came by a file stands together by region and month, by hand by group and month, by a code each alone. */
function arrivals(random: Random, held: readonly Held[], administratorId: number): Entry[] {
  const together = new Map<string, Held[]>();
  for (const each of held) {
    const key =
      each.came_by === 'file'
        ? `file/${each.branch_id}/${each.month}`
        : `${each.came_by}/${each.group_id}/${each.month}/${each.came_by === 'hand' ? '' : each.row_id}`;
    together.set(key, [...(together.get(key) ?? []), each]);
  }
  return [...together.values()].map((list): Entry => {
    const [first] = list;
    if (!first) throw new RangeError('an empty list');
    const people = list.map(({ person_id }) => person_id);
    const isFile = first.came_by === 'file';
    return {
      kind: isFile ? 'bring-in-roster' : first.came_by === 'hand' ? 'add-members' : 'join-by-code',
      actorId:
        first.came_by === 'join code'
          ? null
          : random.chance(0.8)
            ? ((isFile ? first.region_head_id : first.head_id) ?? administratorId)
            : administratorId,
      at:
        list
          .map(({ at }) => at)
          .sort()
          .at(-1) ?? first.at,
      groups: [...new Set(list.map(({ group_id }) => group_id))],
      summary: {
        groups: [isFile ? first.branch_id : first.group_id],
        people: people.slice(0, 3),
        counts: isFile
          ? {
              newPeople: list.filter(({ is_new }) => is_new).length,
              joining: list.filter(({ is_new }) => !is_new).length,
              changed: 0,
              leftOut: random.chance(0.3) ? random.whole(1, 4) : 0,
            }
          : { people: people.length },
        ...(isFile ? { fileName: random.pick(fileNames) } : {}),
      },
      subjects: list.flatMap(({ row_id, person_id, group_id, is_new }) => [
        ...(isFile && is_new ? [{ kind: 'person', person_id, after_row: person_id }] : []),
        { kind: 'membership', person_id, group_id, after_row: row_id },
      ]),
    };
  });
}

/** Orders of seats, decisions about them, and what was paid. */
async function ordered(all: <T>(statement: ReturnType<typeof sql>) => Promise<T[]>): Promise<Entry[]> {
  const steps = await all<{
    state: string;
    at: string;
    by_id: number | null;
    ordered_by: number;
    group_id: number;
    seats: number;
    name: string;
    nth: string;
  }>(sql`
    select t.state, t.at, t.by_id, o.ordered_by, o.group_id, o.seats, l.name, row_number() over (partition by o.id order by t.id) as nth
    from order_step t join seat_order o on o.id = t.order_id join licence_now l on l.licence_id = o.licence_id order by t.id`);
  return steps.flatMap(({ state, at, by_id, ordered_by, group_id, seats, name, nth }): Entry[] => {
    const kind =
      Number(nth) === 1
        ? 'order-seats'
        : (
            { approved: 'decide-order', refused: 'decide-order', 'given up': 'give-up-order', paid: 'seats-paid' } as Record<string, string>
          )[state];
    if (kind === undefined || (kind === 'decide-order' && by_id === null)) return [];
    return [
      {
        kind,
        actorId: kind === 'seats-paid' ? ordered_by : by_id,
        at,
        groups: [group_id],
        summary: {
          groups: [group_id],
          names: { before: '', after: name },
          counts: { seats },
          ...(kind === 'decide-order' ? { fields: [state] } : {}),
        },
        subjects: [],
      },
    ];
  });
}

/** What an administrator set up: statements about courses, licences, who leads. */
async function settings(all: <T>(statement: ReturnType<typeof sql>) => Promise<T[]>, administratorId: number): Promise<Entry[]> {
  const by = { actorId: administratorId };
  const grants = await all<{ row_id: number; group_id: number; courses: number[]; effect: string; at: string }>(
    sql`select row_id, group_id, case when course_id is null then (select jsonb_agg(s.course_id order by s.course_id) from course_in_set s where s.course_set_id = g.course_set_id) else jsonb_build_array(course_id) end as courses, effect, from_at as at from access_grant g where until_at is null and group_id is not null order by row_id`,
  );
  const licences = await all<{ row_id: number; group_id: number; name: string; seats: number; at: string }>(
    sql`select distinct on (licence_id) row_id, group_id, name, seats, from_at as at from licence_version where from_at <= now() order by licence_id, from_at`,
  );
  const led = await all<{ row_id: number; group_id: number; person_id: number; at: string }>(
    sql`select row_id, group_id, person_id, from_at as at from leadership where until_at is null order by row_id`,
  );
  return [
    ...grants.map(({ row_id, group_id, courses, effect, at }): Entry => ({
      ...by,
      kind: 'grant-access',
      at,
      groups: [group_id],
      summary: { groups: [group_id], courses, effects: [effect], counts: {} },
      subjects: [{ kind: 'grant', group_id, after_row: row_id }],
    })),
    ...licences.map(({ row_id, group_id, name, seats, at }): Entry => ({
      ...by,
      kind: 'make-licence',
      at,
      groups: [group_id],
      summary: { groups: [group_id], names: { before: '', after: name }, counts: { seats } },
      subjects: [{ kind: 'licence', group_id, after_row: row_id }],
    })),
    ...led.map(({ row_id, group_id, person_id, at }): Entry => ({
      ...by,
      kind: 'set-leaders',
      at,
      groups: [group_id],
      summary: { groups: [group_id], people: [person_id], counts: { begun: 1, people: 1 } },
      subjects: [{ kind: 'leadership', person_id, group_id, after_row: row_id }],
    })),
  ];
}

/** Tags that an automatic rule gave, in the name of whoever made it. */
async function byRules(all: <T>(statement: ReturnType<typeof sql>) => Promise<T[]>): Promise<Entry[]> {
  const given = await all<{
    rule_id: number;
    group_id: number;
    made_by: number;
    person_id: number;
    row_id: number;
    tag: string;
    at: string;
  }>(sql`
    select a.rule_id, v.group_id, v.made_by, a.person_id, t.row_id, n.name as tag, a.at from rule_act a join rule_version v on v.rule_id = a.rule_id
    join person_tag t on t.person_id = a.person_id and t.from_at = a.at join tag_now n on n.id = t.tag_id order by a.at`);
  return given.map(({ rule_id, group_id, made_by, person_id, row_id, tag, at }): Entry => ({
    kind: 'tag-people',
    actorId: made_by,
    ruleId: rule_id,
    at,
    groups: [group_id],
    summary: { groups: [group_id], people: [person_id], counts: { people: 1, added: 1, removed: 0 }, names: { before: '', after: tag } },
    subjects: [{ kind: 'person tag', person_id, after_row: row_id }],
  }));
}

const actKinds = ['print-cards', 'send-sign-in', 'one-time-sign-in', 'end-sessions'] as const;

/** Help that leaders gave, and cards they printed: about one in five days. */
function acts(random: Random, held: readonly Held[], leaders: readonly number[], now: Date): Entry[] {
  if (held.length === 0) return [];
  return Array.from({ length: Math.round(days / 5) }, (): Entry => {
    const kind = random.pick(actKinds);
    const about = random.pick(held);
    const helped = kind === 'print-cards' ? held.filter(({ group_id }) => group_id === about.group_id) : [about];
    return {
      kind,
      actorId: about.head_id ?? random.pick(leaders),
      at: new Date(now.getTime() - random.whole(1, days) * 86_400_000 - random.whole(0, 36_000_000)).toISOString(),
      groups: [about.group_id],
      summary: {
        groups: [about.group_id],
        people: helped.slice(0, 3).map(({ person_id }) => person_id),
        counts: { people: helped.length },
      },
      subjects: helped.map(({ person_id }) => ({ kind: 'act', person_id, after_row: person_id })),
    };
  });
}
