import { may, noEffects } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { mergeTouched, type Planner, summaryOf, type Touched } from '../changes/plan.ts';
import { ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { isCounted, seenPerson } from '../people/scope.ts';
import { leadersOf, tellLeaders } from './acts.ts';
import { type Fitting, peopleOf } from './fitting.ts';
import { actsOn, addEffects } from './set-rule.ts';
import { standingRules } from './standing-rules.ts';

/**
 * A leader answers a rule that asks first: it acts on these people, as a change of the leader's, with the leader's powers; or it leaves
 * them alone for this occasion.
 */
export const planAnswerRule: Planner<'answer-rule'> = async (context, { ruleId, personIds, acts }) => {
  const { db, actor, tree, today } = context;
  const [rule] = await standingRules(db, sql`v.rule_id = ${ruleId}`);
  if (!rule || !tree.has(rule.group_id) || !may(actor, 'managePeople', { path: tree.path(rule.group_id) })) throw notFound();
  const waiting = await rows<Fitting & { id: number }>(
    db,
    sql`
    select a.id, a.person_id, a.occasion, a.at::text as at from rule_act a join person p on p.id = a.person_id
    where a.rule_id = ${ruleId} and a.outcome = 'asked' and a.person_id = any(${ids(personIds)}) and ${isCounted(rule.group_id, true)} and ${seenPerson(actor, sql`p.id`)} order by a.id`,
  );
  const people = peopleOf(waiting);
  const plans = acts && people.length > 0 ? await actsOn(context, rule, waiting) : [];
  const effects = noEffects();
  for (const { effects: each } of plans) addEffects(effects, each);
  const leaders = acts && rule.then.some(({ act }) => act === 'tell leaders') ? await leadersOf(db, rule.group_id, today) : [];
  effects.letters += leaders.length;
  const gone = new Set(personIds).size - people.length;
  if (people.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  else if (gone > 0) effects.conflicts.push({ code: 'gone since', blocks: false, count: gone });
  return {
    effects,
    groups: [...new Set([rule.group_id, ...plans.flatMap(({ groups }) => groups)])],
    summary: summaryOf({
      groups: [rule.group_id],
      names: { before: '', after: rule.name },
      people: people.slice(0, 3),
      counts: { people: people.length },
      fields: [acts ? 'acts' : 'left'],
    }),
    async write(tx, writer) {
      const touched: Touched[] = [{ rules: true }];
      for (const plan of plans) touched.push(await plan.write(tx, writer));
      await tellLeaders(tx, context.publicUrl, rule, people, leaders);
      await tx
        .update(tables.ruleAct)
        .set({ outcome: acts ? 'acted' : 'left alone', changeId: writer.changeId, at: sql`now()` })
        .where(
          and(
            isAmong(
              tables.ruleAct.id,
              waiting.map(({ id }) => id),
            ),
            eq(tables.ruleAct.outcome, 'asked'),
          ),
        );
      return mergeTouched(touched);
    },
  };
};
