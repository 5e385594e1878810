import type { Change, RuleValues } from '@gate-roster/contract';
import fc from 'fast-check';
import { gullhaven } from '../testing/outside-changes.ts';
import { plainMembers, rulesSettled } from '../testing/rule-tools.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/*
 * Random rules of a leader and random events: the rules come to an end, each acts once for a person and an occasion, everything they do
 * lies in the leader's branch, and nobody who entered is passed over.
 */

let site: Site;
let ottoline: Client;
let branch: number[] = [];
let people: number[] = [];
const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
beforeAll(async () => {
  site = await startSite();
  ottoline = await site.as('ottoline');
  branch = (
    await query<{ id: number }>(`select group_id::int as id from group_branch where ancestor_id = ${gullhaven} and depth > 0 order by 1`)
  ).map(({ id }) => id);
  people = await plainMembers(site, gullhaven, 4);
});
afterAll(() => site.stop());

const group = fc.nat({ max: 6 }).map((at) => (): number => branch[at % branch.length] ?? 0);
const name = fc.constantFrom('one', 'two', 'three');
const when = fc.oneof(
  fc.record({ when: fc.constantFrom('enters' as const, 'leaves' as const), group }),
  fc.record({ when: fc.constant('tagged' as const), name }),
);
const then = fc.oneof(
  { weight: 3, arbitrary: fc.record({ act: fc.constant('tag' as const), name }) },
  { weight: 2, arbitrary: fc.record({ act: fc.constantFrom('put in' as const, 'take out' as const), group }) },
);
const event = fc.oneof(
  fc.record({ what: fc.constantFrom('add' as const, 'remove' as const), group, person: fc.nat({ max: 3 }) }),
  fc.record({ what: fc.constant('tag' as const), name, person: fc.nat({ max: 3 }) }),
);

async function tryToApply(change: Change): Promise<boolean> {
  const look = await ottoline.call('look', { body: { change } });
  if (look.conflicts.some(({ blocks }) => blocks)) return false;
  await ottoline.apply(change);
  return true;
}

test('random rules of a leader end, act once, stay in the branch and pass nobody over', async () => {
  let [acts, refused] = [0, 0];
  // The tags that rules wait for are there before they are named.
  for (const each of ['one', 'two', 'three'])
    await ottoline.apply({ kind: 'tag-people', groupId: gullhaven, personIds: people.slice(0, 1), add: [each], remove: [] });
  const tags = new Map(
    (await query<{ id: number; name: string }>(`select id::int, name from tag_now where name in ('one', 'two', 'three')`)).map((tag) => [
      tag.name,
      tag.id,
    ]),
  );
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ when, then }), { minLength: 2, maxLength: 5 }),
      fc.array(event, { minLength: 4, maxLength: 8 }),
      async (rules, events) => {
        const [since] = await query<{ rule: number; change: number }>(
          `select coalesce((select max(id) from rule), 0)::int as rule, (select max(id) from change_log)::int as change`,
        );
        for (const [index, rule] of rules.entries()) {
          const values: RuleValues = {
            name: `Random ${index}`,
            when:
              'group' in rule.when
                ? { when: rule.when.when, groupId: rule.when.group() }
                : { when: 'tagged', tagId: tags.get(rule.when.name) ?? 0 },
            filter: [],
            then: ['group' in rule.then ? { act: rule.then.act, groupId: rule.then.group() } : rule.then],
          };
          if (!(await tryToApply({ kind: 'set-rule', ruleId: null, groupId: gullhaven, values, state: 'later ones' }))) refused++;
        }
        for (const each of events) {
          const personIds = [people[each.person] ?? 0];
          const change: Change =
            each.what === 'tag'
              ? { kind: 'tag-people', groupId: gullhaven, personIds, add: [each.name], remove: [] }
              : each.what === 'add'
                ? { kind: 'add-members', groupId: each.group(), personIds, firstDay: null, lastDay: null }
                : { kind: 'remove-members', groupId: each.group(), personIds };
          await tryToApply(change);
          await rulesSettled(site);
        }
        const made = `c.rule_id > ${since?.rule ?? 0} and c.id > ${since?.change ?? 0}`;
        const outside = await query(
          `select 1 from change_log c join change_group g on g.change_id = c.id where ${made} and g.group_id not in (select group_id from group_branch where ancestor_id = ${gullhaven})`,
        );
        expect(outside).toEqual([]);
        const [left] = await query<{ n: string }>(`select count(*) as n from rule_event`);
        expect(Number(left?.n)).toBe(0);
        // Whoever is in a group that a rule waits for, since after it was switched on, was acted on or has an answer.
        const passedOver = await query(
          `select v.rule_id, m.person_id from rule_version v join group_branch b on b.ancestor_id = (v.set_off ->> 'groupId')::bigint join membership m on m.group_id = b.group_id and m.until_at is null
         where v.until_at is null and v.is_on and v.rule_id > ${since?.rule ?? 0} and v.set_off ->> 'when' = 'enters' and m.from_at > v.on_since
           and not exists (select 1 from rule_act a where a.rule_id = v.rule_id and a.person_id = m.person_id)
           and not exists (select 1 from membership o join group_branch ob on ob.group_id = o.group_id and ob.ancestor_id = b.ancestor_id where o.person_id = m.person_id and o.row_id <> m.row_id and o.from_at <= m.from_at and coalesce(o.until_at >= m.from_at, true))`,
        );
        expect(passedOver).toEqual([]);
        const twice = await query(
          `select rule_id, person_id, occasion from rule_act where outcome = 'acted' group by 1, 2, 3 having count(*) > 1`,
        );
        expect(twice).toEqual([]);
        const [done] = await query<{ n: string }>(
          `select count(*) as n from rule_act where rule_id > ${since?.rule ?? 0} and outcome = 'acted'`,
        );
        acts += Number(done?.n);
        for (const { id } of await query<{ id: number }>(
          `select rule_id::int as id from rule_version where until_at is null and rule_id > ${since?.rule ?? 0}`,
        ))
          await ottoline.apply({ kind: 'end-rule', ruleId: id });
        for (const each of ['one', 'two', 'three'])
          await tryToApply({ kind: 'tag-people', groupId: gullhaven, personIds: people, add: [], remove: [tags.get(each) ?? 0] });
      },
    ),
    { numRuns: 14 },
  );
  expect(acts).toBeGreaterThan(5);
  expect(refused).toBeGreaterThan(0);
}, 600_000);
