import { writeFilter } from '@gate-roster/contract';
import {
  courseParts,
  emptyTally,
  enrolmentFitsAll,
  type Filter,
  type FilteredEnrolment,
  fits,
  personFits,
  personParts,
  type Tally,
} from '@gate-roster/core';
import { ReportColumns } from '../progress/columns/report-columns.ts';
import { everybodyIn } from '../testing/everybody-in.ts';
import { answeredBy, columnsOf } from '../testing/columns.ts';
import { factsFor, type Facts, randomFilter, randomFrom } from '../testing/filter-facts.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';

/*
 * Lists and reports under a filter are what its meaning in core gives, person by person, from facts that are read one table at a
 * time: for an administrator and for leaders, whose filter sees what they see.
 */
let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

test('random filters: who is listed, and every figure of the report, is what core says person by person, also for leaders', async () => {
  const { listed, counted } = await compareUnderFilters(20_261_128);
  expect(listed).toBeGreaterThan(1000);
  expect(counted).toBeGreaterThan(1000);
}, 300_000);

test('the same where reports are answered from columns in memory', async () => {
  const { found, answers } = await answeredBy(site, await columnsOf(site), () => compareUnderFilters(20_261_130));
  expect(found.listed).toBeGreaterThan(1000);
  expect(found.counted).toBeGreaterThan(1000);
  expect(answers).toBeGreaterThan(100);
}, 300_000);

/** @returns How many people were listed and how many enrolments counted. */
async function compareUnderFilters(seed: number): Promise<{ listed: number; counted: number }> {
  const random = randomFrom(seed);
  let listed = 0;
  let counted = 0;
  for (const [name, scopeId] of [
    ['mirela', 1],
    ['mirela', 38],
    ['ottoline', 10],
  ] as const) {
    const client: Client = await site.as(name);
    const { ids: some } = await client.call('chosenNumbers', { body: everybodyIn(scopeId) });
    const list = await client.call('makeList', { body: { name: `List of ${scopeId}`, personIds: some.slice(0, 30) } });
    const { today, facts } = await factsFor(site, name, scopeId);
    for (let n = 0; n < 12; n++) {
      const filter: Filter = randomFilter(random, list.id, today);
      const query = { filter: writeFilter(filter) };
      const isByState = filter.some(({ part }) => part === 'state');
      const base = [...facts].filter(([, each]) => (isByState ? each.isMember : each.isCounted));
      const expected = base.filter(([, each]) => fits(each.person, each.enrolments, filter, today)).map(([id]) => id);
      const { ids } = await client.call('chosenNumbers', { body: everybodyIn(scopeId, { filter: [...filter] }) });
      expect({ filter, ids: [...ids].sort() }).toEqual({ filter, ids: [...expected].sort() });
      const others = await client.call('groupPeople', { params: { groupId: scopeId }, query: { ...query, fits: 'no', limit: 1 } });
      expect({ filter, matching: others.matching, total: others.total }).toEqual({
        filter,
        matching: base.length - expected.length,
        // With a state asked for, all who are in it; other parts narrow those.
        total: base.filter(([, { person }]) =>
          personParts(filter).every((part) => part.part !== 'state' || personFits(person, part, today)),
        ).length,
      });
      listed += ids.length;
      counted += await compareReport(client, scopeId, filter, facts, today);
    }
  }
  return { listed, counted };
}

const scoresOf = (enrolments: readonly FilteredEnrolment[]): number[] =>
  enrolments.flatMap(({ exempt, score }) => (exempt || score === null ? [] : [score]));
const closeTo = (value: number): number => expect.closeTo(value, 6) as number;

/** Each row, course, sum and median of the report; says how many enrolments there were. */
async function compareReport(client: Client, scopeId: number, filter: Filter, facts: Map<number, Facts>, today: string): Promise<number> {
  const report = await client.call('progress', { params: { groupId: scopeId }, query: { filter: writeFilter(filter), scores: 'median' } });
  const about = courseParts(filter);
  const fitting = [...facts]
    .filter(([, { isCounted, person, enrolments }]) => isCounted && fits(person, enrolments, filter, today))
    .map(([id, each]) => ({
      id,
      ...each,
      enrolments: each.enrolments.filter((one) => enrolmentFitsAll(one, about, today)),
    }));
  const tallyOf = (enrolments: readonly FilteredEnrolment[]): Tally => ({
    ...emptyTally,
    all: enrolments.length,
    exempt: enrolments.filter(({ exempt }) => exempt).length,
    done: enrolments.filter(({ exempt, status }) => !exempt && status === 'done').length,
    underWay: enrolments.filter(({ exempt, status }) => !exempt && status === 'under way').length,
    overdue: enrolments.filter(({ lateness }) => lateness === 'overdue').length,
    scored: enrolments.filter(({ exempt, score }) => !exempt && score !== null).length,
    // Added up in another order.
    scoreSum: closeTo(scoresOf(enrolments).reduce((sum, score) => sum + score, 0)),
  });
  expect({ filter, learners: report.learners, ofAll: report.ofAll }).toEqual({
    filter,
    learners: fitting.length,
    ofAll: [...facts.values()].filter(({ isCounted }) => isCounted).length,
  });
  for (const row of report.rows) {
    const theirs = fitting.filter(({ countsFor }) => countsFor.has(row.id));
    const enrolments = theirs.flatMap((each) => each.enrolments);
    expect({ filter, row: row.id, learners: row.learners, total: row.total }).toEqual({
      filter,
      row: row.id,
      learners: theirs.length,
      total: tallyOf(enrolments),
    });
    for (const [index, { id }] of report.courses.entries())
      expect(row.cells[index] ?? emptyTally).toEqual(tallyOf(enrolments.filter(({ courseId }) => courseId === id)));
    const medianOf = (list: readonly FilteredEnrolment[]): number | null => {
      const sorted = scoresOf(list).sort((a, b) => a - b);
      const half = (sorted.length - 1) / 2;
      return sorted.length === 0 ? null : closeTo(((sorted[Math.floor(half)] ?? 0) + (sorted[Math.ceil(half)] ?? 0)) / 2);
    };
    expect({ filter, row: row.id, medians: row.medians }).toEqual({
      filter,
      row: row.id,
      medians: {
        total: medianOf(enrolments),
        cells: report.courses.map(({ id }) => medianOf(enrolments.filter(({ courseId }) => courseId === id))),
      },
    });
  }
  const all = fitting.flatMap(({ enrolments }) => enrolments);
  expect({ filter, tens: report.tens }).toEqual({
    filter,
    tens: report.tens.map((_, ten) => scoresOf(all).filter((score) => Math.min(9, Math.floor(score / 10)) === ten).length),
  });
  await compareLearners(client, scopeId, filter, facts, new Set(fitting.map(({ id }) => id)));
  return report.total.all;
}

/** The list of learners by course: who is in it, each cell, and as many lines in its file. */
async function compareLearners(
  client: Client,
  scopeId: number,
  filter: Filter,
  facts: Map<number, Facts>,
  fitting: Set<number>,
): Promise<void> {
  const query = { filter: writeFilter(filter) };
  const page = await client.call('progressLearners', { params: { groupId: scopeId }, query: { ...query, limit: 200 } });
  expect({ filter, learners: page.counts?.learners, shown: page.people.length }).toEqual({
    filter,
    learners: fitting.size,
    shown: Math.min(200, fitting.size),
  });
  for (const { id, cells } of page.people) {
    expect([filter, fitting.has(id)]).toEqual([filter, true]);
    // A cell is what is open or was worked on, whatever the filter asks.
    const shown =
      facts
        .get(id)
        ?.enrolments.filter(
          (each) => (each.access === 'open' || each.isBegun) && page.courses.some((course) => course.id === each.courseId),
        ) ?? [];
    expect(cells.map(({ courseId, status, lateness, due, score, exempt }) => [courseId, status, lateness, due, score, exempt])).toEqual(
      shown.map(({ courseId, status, lateness, due, score, exempt }) => [courseId, status, lateness, due, score, exempt]),
    );
  }
  const file = await client.call('progressLearnersFile', { params: { groupId: scopeId }, query });
  expect(file.trimEnd().split('\r\n')).toHaveLength(fitting.size + 1);
}

test('columns that are asked whether they are ready are read from then on, and again when the day is another', async () => {
  const columns = new ReportColumns(site.deps.db);
  const ready = (today: string): Promise<true | null> =>
    columns.answer({ kind: 'ready', reader: { actor: { today, timeZone: 'Europe/Dublin' } } });
  for (const today of ['2026-12-01', '2026-12-02']) {
    expect(await ready(today)).toBeNull();
    await columns.load({ today, timeZone: 'Europe/Dublin' });
    expect(await ready(today)).toBe(true);
  }
});

test('a report whose filter everybody fits is the report without one; a broken, an endless and a too long filter are refused', async () => {
  const mirela = await site.as('mirela');
  for (const groupId of [1, 17, 38]) {
    const plain = await mirela.call('progress', { params: { groupId } });
    const everyone: Filter = [{ part: 'state', of: ['active'] }];
    const filtered = await mirela.call('progress', { params: { groupId }, query: { filter: writeFilter(everyone) } });
    const sums = (report: typeof plain) => report.rows.map(({ id, learners, total }) => [id, learners, { ...total, scoreSum: 0 }]);
    expect([sums(filtered), filtered.weeks]).toEqual([sums(plain), plain.weeks]);
  }
  for (const text of [
    '[',
    '{}',
    '[{"part":"tags"}]',
    '[{"part":"none of ours"}]',
    writeFilter([{ part: 'tags', how: 'any', ids: Array.from({ length: 500 }, (_, n) => n + 1) }]),
    writeFilter(Array.from({ length: 30 }, () => ({ part: 'signed in', is: true }) as const)),
    'x'.repeat(9000),
  ]) {
    const answer = await mirela.send('groupPeople', { params: { groupId: 1 }, query: { filter: text } });
    expect([text.slice(0, 30), answer.status]).toEqual([text.slice(0, 30), 400]);
  }
});
