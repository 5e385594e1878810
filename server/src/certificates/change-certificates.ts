import { randomInt } from 'node:crypto';
import { branchesWith, makeCertificateNumber, may, noEffects, tidyName, unknownFields } from '@gate-roster/core';
import { desc, eq, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, ids, oneRow, onlyOne, rows, texts } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { isOwnPicture } from '../groups/uploads.ts';
import { found, notFound } from '../http/problem.ts';
import { ringForWork } from '../jobs/bell.ts';
import { countedIn, type Earned, earned, earnedRows, type FormRow, formRows } from './earned.ts';

const freshNumber = (): string => makeCertificateNumber(randomInt);

/** Makes a certificate that can be given, or changes what it says from now on; those that were given stay as they are. */
export const planSetCertificate: Planner<'set-certificate'> = async ({ db, actor, tree }, { formId, groupId, values }) => {
  const mayAt = (id: number): boolean => tree.has(id) && may(actor, 'markWork', { path: tree.path(id) });
  const [now] = formId === null ? [] : await formRows(db, sql`f.id = ${formId}`);
  if (!mayAt(groupId) || (formId !== null && (!now || !mayAt(now.groupId)))) throw notFound();
  const { courseId, courseSetId, logoId } = values;
  if (courseId !== null)
    found(await firstOf(db.select({ id: tables.courseNow.id }).from(tables.courseNow).where(eq(tables.courseNow.id, courseId))));
  if (courseSetId !== null)
    found(
      await firstOf(db.select({ id: tables.courseSetNow.id }).from(tables.courseSetNow).where(eq(tables.courseSetNow.id, courseSetId))),
    );
  const effects = noEffects();
  const unknown = unknownFields(values.words);
  if (unknown.length > 0) effects.conflicts.push({ code: 'words unknown field', blocks: true, count: unknown.length, names: unknown });
  const isPicture = logoId === null || logoId === now?.logoId || (await isOwnPicture(db, actor.personId, logoId));
  if (!isPicture) effects.conflicts.push({ code: 'not a picture', blocks: true, count: 1 });
  return {
    effects,
    groups: [...new Set([groupId, ...(now ? [now.groupId] : [])])],
    summary: summaryOf({ groups: [groupId], names: { before: now?.title ?? '', after: tidyName(values.title) } }),
    async write(tx, writer) {
      const id = formId ?? (await oneRow<{ id: number }>(tx, sql`insert into certificate_form default values returning id`)).id;
      const row = {
        form_id: id,
        group_id: groupId,
        course_id: courseId,
        course_set_id: courseSetId,
        title: tidyName(values.title),
        words: values.words,
        logo_id: logoId,
        shows_score: values.showsScore,
        by_itself: values.byItself,
      };
      if (now) await writer.replace('certificate form', [{ rowId: now.rowId, values: row }]);
      else await writer.begin('certificate form', [row]);
      if (values.byItself) await ringForWork(tx);
      return { progressed: [] };
    },
  };
};

/** A certificate is given no more; those that were given stay. */
export const planEndCertificate: Planner<'end-certificate'> = async ({ db, actor, tree }, { formId }) => {
  const form = found((await formRows(db, sql`f.id = ${formId}`))[0]);
  if (!may(actor, 'markWork', { path: tree.path(form.groupId) })) throw notFound();
  return {
    effects: noEffects(),
    groups: [form.groupId],
    summary: summaryOf({ groups: [form.groupId], names: { before: '', after: form.title } }),
    async write(_, writer) {
      await writer.end('certificate form', [form.rowId]);
      return { progressed: [] };
    },
  };
};

/** A form that the actor may give: it is of a group in their branches or above one of them. @throws ProblemError `not-found`. */
async function givableForm({ db, actor, tree }: PlanContext, formId: number): Promise<{ form: FormRow; within: number[] }> {
  const form = found((await formRows(db, sql`f.id = ${formId}`))[0]);
  const within = givenWithin({ actor, tree }, form.groupId);
  if (within.length === 0) throw notFound();
  return { form, within };
}

/** The tops of what a certificate of a group's reaches for the actor: the group, or own branches below it. */
export function givenWithin({ actor, tree }: Pick<PlanContext, 'actor' | 'tree'>, groupId: number): number[] {
  const tops = branchesWith(actor, 'markWork');
  if (!tree.has(groupId)) return [];
  if (tops === null || tops.some((top) => tree.has(top) && tree.isInBranch(groupId, top))) return [groupId];
  return tops.filter((top) => tree.has(top) && tree.isInBranch(top, groupId));
}

/** Gives a certificate to those of these people who have earned it. */
export const planGiveCertificates: Planner<'give-certificates'> = async (context, { formId, personIds }) => {
  const { db, actor, today } = context;
  const { form, within } = await givableForm(context, formId);
  const people = await rows<{ id: number }>(
    db,
    sql`select p.id from person p where p.id = any(${ids(personIds)}) and ${countedIn(within)}`,
  );
  if (people.length < new Set(personIds).size) throw notFound();
  const list = await earned(db, form, sql`p.id = any(${ids(personIds)}) and ${countedIn(within)}`, today);
  const effects = noEffects();
  effects.reached = list.map(({ personId }) => personId);
  const lacking = people.filter(({ id }) => !effects.reached.includes(id)).map(({ id }) => id);
  if (lacking.length > 0) effects.conflicts.push({ code: 'not earned', blocks: list.length === 0, count: lacking.length, people: lacking });
  return {
    effects,
    groups: within,
    summary: summaryOf({
      groups: [form.groupId],
      people: effects.reached.slice(0, 3),
      names: { before: '', after: form.title },
      counts: { people: list.length },
    }),
    async write(_, writer) {
      await beginCertificates(writer, form, list, actor.personId);
      return { progressed: effects.reached };
    },
  };
};

/** @param givenBy null: by itself. */
export async function beginCertificates(
  writer: ChangeWriter,
  form: FormRow,
  list: readonly (Earned & { replaces?: string; nameShown?: boolean })[],
  givenBy: number | null,
): Promise<void> {
  const givenAt = new Date().toISOString();
  await writer.begin(
    'certificate',
    list.map(({ personId, day, score, validUntil, replaces, nameShown }) => ({
      number: freshNumber(),
      form_id: form.id,
      person_id: personId,
      about: form.about ?? form.group,
      day,
      score,
      valid_until: validUntil,
      given_at: givenAt,
      given_by: givenBy,
      replaces: replaces ?? null,
      name_shown: nameShown ?? false,
    })),
  );
}

/** Withdraws certificates; the check page says so. `replace`: their holders get others, of what is true now. */
export const planWithdrawCertificates: Planner<'withdraw-certificates'> = async (context, { numbers, replace }) => {
  const { db, actor, today } = context;
  const list = await rows<{ rowId: number; number: string; formId: number; personId: number; nameShown: boolean; title: string }>(
    db,
    sql`
    select o.row_id as "rowId", o.number, o.form_id as "formId", o.person_id as "personId", o.name_shown as "nameShown",
      (select v.title from certificate_form_version v where v.form_id = o.form_id order by v.row_id desc limit 1) as title
    from certificate o where o.until_at is null and o.number = any(${texts(numbers)}) order by o.row_id`,
  );
  if (list.length < new Set(numbers).size) throw notFound();
  const effects = noEffects();
  effects.reached = [...new Set(list.map(({ personId }) => personId))];
  const fresh: { form: FormRow; list: (Earned & { replaces: string; nameShown: boolean })[] }[] = [];
  const groups = new Set<number>();
  let lacking: number[] = [];
  for (const formId of new Set(list.map((each) => each.formId))) {
    const ofForm = list.filter((each) => each.formId === formId);
    const people = ofForm.map(({ personId }) => personId);
    const within = await whereMarked(context, formId, people);
    for (const id of within) groups.add(id);
    if (!replace) continue;
    const [form] = await formRows(db, sql`f.id = ${formId}`);
    const now = form ? await rows<Earned>(db, earnedNow(form, people, today)) : [];
    lacking = [...lacking, ...people.filter((id) => !now.some(({ personId }) => personId === id))];
    if (form)
      fresh.push({
        form,
        list: now.flatMap((each) => {
          const old = ofForm.find(({ personId }) => personId === each.personId);
          return old ? [{ ...each, replaces: old.number, nameShown: old.nameShown }] : [];
        }),
      });
  }
  if (lacking.length > 0) effects.conflicts.push({ code: 'not earned', blocks: true, count: lacking.length, people: lacking });
  return {
    effects,
    groups: [...groups],
    summary: summaryOf({
      people: effects.reached.slice(0, 3),
      names: { before: '', after: list[0]?.title ?? '' },
      counts: { people: list.length, replaced: replace ? list.length : 0 },
    }),
    async write(_, writer) {
      await writer.end(
        'certificate',
        list.map(({ rowId }) => rowId),
      );
      for (const { form, list: others } of fresh) await beginCertificates(writer, form, others, actor.personId);
      return { progressed: effects.reached };
    },
  };
};

const earnedNow = (form: FormRow, people: readonly number[], today: string) =>
  sql`select e.person_id as "personId", e.day::text as day, e.score, e.valid_until::text as "validUntil" from (${earnedRows(form, sql`p.id = any(${ids(people)})`, today)}) e`;

/** Groups in whose name the actor acts on the holders of a certificate. @throws ProblemError `not-found` when one of them is not theirs. */
async function whereMarked({ db, actor, tree }: PlanContext, formId: number, people: readonly number[]): Promise<number[]> {
  const { group_id } = await onlyOne(
    db
      .select({ group_id: tables.certificateFormVersion.groupId })
      .from(tables.certificateFormVersion)
      .where(eq(tables.certificateFormVersion.formId, formId))
      .orderBy(desc(tables.certificateFormVersion.rowId))
      .limit(1),
  );
  const within = givenWithin({ actor, tree }, group_id);
  const theirs = await rows(
    db,
    sql`select 1 from person p where p.id = any(${ids(people)}) and (${actor.role === 'administrator'}::boolean or ${countedIn(within)})`,
  );
  if (theirs.length < new Set(people).size) throw notFound();
  return within.length > 0 ? within : [...tree.nodes()].flatMap(({ id, parentId }) => (parentId === null ? [id] : []));
}
