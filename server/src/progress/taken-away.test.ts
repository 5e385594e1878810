import { randomUUID } from 'node:crypto';
import { completion, type Filter, type Tally } from '@gate-roster/core';
import Papa from 'papaparse';
import readXlsxFile from 'read-excel-file/node';
import { sweep } from '../retention.ts';
import { draft } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Side by side, and what is taken away as a file: the same figures as on the screen. */
const [gullhaven, inshore, shore, cadets] = [3, 4, 7, 8];
let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

/** Sums of scores are added up in another order. */
const rounded = (tally: Tally): Tally => ({ ...tally, scoreSum: Math.round(tally.scoreSum * 1000) / 1000 });
const filters: Filter[] = [[], [{ part: 'status', of: ['done', 'under way'] }], [{ part: 'active', how: 'within', days: 30 }]];

test('groups side by side have the figures of their own reports, and quartiles of the scores behind them', async () => {
  for (const filter of filters)
    for (const subgroups of ['yes', 'no'] as const) {
      const query = { subgroups, filter: filter.length === 0 ? '' : JSON.stringify(filter) };
      const { rows, scope, courses } = await mirela.call('progressSideBySide', {
        params: { groupId: gullhaven },
        query: { ...query, groups: [inshore, shore, cadets].join() },
      });
      expect(rows.map(({ id }) => id)).toEqual([inshore, shore, cadets]);
      for (const row of [...rows, scope]) {
        const report = await mirela.call('progress', { params: { groupId: row.id }, query });
        const [own] = report.rows;
        expect([row.learners, row.ofAll, rounded(row.total)]).toEqual([report.learners, report.ofAll, rounded(report.total)]);
        expect(courses.flatMap((course, index) => (row.cells[index] ? [[course.id, rounded(row.cells[index])]] : []))).toEqual(
          report.courses.flatMap((course, index) => (own?.cells[index] ? [[course.id, rounded(own.cells[index])]] : [])),
        );
        const scored: number[] = [];
        for (const course of courses) {
          for (let after: string | undefined; ;) {
            const page = await mirela.call('progressPeople', {
              params: { groupId: row.id },
              query: { ...query, courseId: course.id, limit: 200, ...(after ? { after } : {}) },
            });
            for (const { score, exempt } of page.enrolments) if (score !== null && !exempt) scored.push(score);
            if (page.next === null) break;
            after = page.next;
          }
        }
        expect(row.scores?.of ?? 0).toBe(scored.length);
        scored.sort((a, b) => a - b);
        const at = (share: number): number => {
          const place = (scored.length - 1) * share;
          const [low = 0, high = 0] = [scored[Math.floor(place)], scored[Math.ceil(place)]];
          return low + (high - low) * (place - Math.floor(place));
        };
        if (row.scores)
          for (const [name, share] of [
            ['low', 0.25],
            ['median', 0.5],
            ['high', 0.75],
          ] as const)
            expect(row.scores[name]).toBeCloseTo(at(share), 6);
      }
    }
});

test('on the units that are open to all of them, a group’s part of a course is compared with the same part of the others', async () => {
  const [part] = await execute<{ course: number; unit: number; other: number }>(
    site.databaseUrl,
    `select u.course_id::int as course, min(u.id)::int as unit, max(u.id)::int as other from unit_now u join course_now c on c.id = u.course_id where c.name = 'Cold-water immersion' group by 1`,
  );
  const [course = 0, unit = 0] = [part?.course, part?.unit];
  // Cadets have the first unit alone.
  const block = { ...draft, groupId: cadets, courseId: course, effect: 'block' as const, firm: true };
  const units = (
    await execute<{ id: number }>(site.databaseUrl, `select id::int from unit_now where course_id = ${course} and id <> ${unit}`)
  ).map(({ id }) => id);
  await mirela.apply({ kind: 'grant-access', end: [], begin: [{ ...block, units }] });
  const beside = (count: 'own' | 'common') =>
    mirela.call('progressSideBySide', { params: { groupId: gullhaven }, query: { groups: `${shore},${cadets}`, count } });
  const [own, common] = [await beside('own'), await beside('common')];
  const at = own.courses.findIndex(({ id }) => id === course);
  const activities = await execute<{ id: number }>(site.databaseUrl, `select id::int from activity_now where unit_id = ${unit}`);
  for (const [row, groupId] of [
    [common.rows[0], shore],
    [common.rows[1], cadets],
  ] as const) {
    const inside = await mirela.call('progressInside', { params: { groupId }, query: { courseId: course, limit: 200 } });
    const finished = inside?.people.filter(
      ({ exempt, results }) =>
        !exempt && activities.every(({ id }) => results.some(({ activityId, finished: is }) => activityId === id && is)),
    );
    expect(row?.cells[at]?.done).toBe(finished?.length);
  }
  // The others are measured on less, so no fewer of them have done it.
  expect(common.rows[0]?.cells[at]?.done ?? 0).toBeGreaterThanOrEqual(own.rows[0]?.cells[at]?.done ?? 0);
});

const download = async (query: Record<string, string>): Promise<Buffer> => {
  const answer = await mirela.send('progressWorkbook', { params: { groupId: gullhaven }, query });
  expect(answer.status).toBe(200);
  return Buffer.from(await answer.arrayBuffer());
};
const shown = (cell: unknown): string =>
  cell instanceof Date ? cell.toISOString().slice(0, 10) : typeof cell === 'number' ? String(cell) : typeof cell === 'string' ? cell : '';

test('a workbook says cell by cell what the CSV says, with numbers as numbers and days as days; formulas stay text', async () => {
  await execute(
    site.databaseUrl,
    `update personal set family_name = '=HYPERLINK(1)' where until_at is null and person_id = (select min(person_id) from membership where group_id = ${cadets} and until_at is null)`,
  );
  const filter = JSON.stringify(filters[1]);
  for (const [view, file] of [
    ['groups', 'progressFile'],
    ['learners', 'progressLearnersFile'],
    ['course', 'progressInsideFile'],
  ] as const) {
    const csv = await mirela.call(file, { params: { groupId: gullhaven }, query: { filter } });
    const lines = Papa.parse<string[]>(csv.replace('\uFEFF', '').trim()).data;
    const sheets = await readXlsxFile(await download({ view, filter }));
    expect(sheets.map(({ sheet }) => sheet)).toContain('About');
    const [table] = sheets;
    const found = table?.data.map((row) => row.map(shown)) ?? [];
    expect(found.length).toBe(lines.length);
    expect(found.length).toBeGreaterThan(20);
    for (const [index, line] of lines.entries())
      expect(line.map((cell) => cell.replace(/^'(?==)/u, '')).map((cell, place) => [place, cell])).toEqual(
        line.map((_, place) => [place, found[index]?.[place] ?? '']),
      );
    if (view === 'learners') {
      expect(found.some(([name]) => name === '=HYPERLINK(1)')).toBe(true);
      expect(table?.data.some((row) => row[3] instanceof Date)).toBe(true);
    }
    if (view === 'groups') expect(typeof table?.data[1]?.[2]).toBe('number');
  }
});

test('the workbook of groups side by side has each of them, and says what was asked', async () => {
  const sheets = await readXlsxFile(await download({ view: 'beside', groups: `${inshore},${cadets}` }));
  const [table, about] = sheets;
  const { rows } = await mirela.call('progressSideBySide', { params: { groupId: gullhaven }, query: { groups: `${inshore},${cadets}` } });
  for (const row of rows) {
    const line = table?.data.find(([name, , course]) => name === row.name && course === 'All courses');
    expect(line?.[1]).toBe(row.learners);
    expect(line?.[9]).toBe(Math.round((completion(row.total) ?? 0) * 100));
  }
  expect(about?.data.find(([what]) => what === 'Group')?.[1]).toBe('Gullhaven');
});

test('a file by group leaves out the columns that were taken out, and its rows stand as they were sorted', async () => {
  const params = { groupId: gullhaven };
  const report = await mirela.call('progress', { params });
  const [gone, kept] = [report.courses[1]?.id ?? 0, report.courses[0]?.id ?? 0];
  const { rows } = await mirela.call('progressJson', { params, query: { view: 'groups', without: String(gone), by: `-${kept}` } });
  const whole = await mirela.call('progressJson', { params, query: { view: 'groups' } });
  const name = report.courses[1]?.name;
  expect(rows).toHaveLength(whole.rows.filter((row) => row['Course'] !== name).length);
  expect(rows.every((row) => row['Course'] !== name)).toBe(true);
  const rates = rows
    .filter((row) => row['Course'] === report.courses[0]?.name && row['Levels below the scope'] === 1)
    .map((row) => Number(row['Completion %']));
  expect(rates.length).toBeGreaterThan(2);
  expect(rates).toEqual([...rates].sort((a, b) => a - b));
  expect((await mirela.send('progressJson', { params, query: { view: 'groups', by: 'drop table' } })).status).toBe(400);
});

test('JSON and paper say what the CSV says; a sheet for each group has its own learners; the filter is written in each', async () => {
  const filter = JSON.stringify(filters[1]);
  const query = { view: 'learners' as const, filter, says: 'Done or under way' };
  const params = { groupId: gullhaven };
  const csv = Papa.parse<string[]>(
    (await mirela.call('progressLearnersFile', { params, query: { filter } })).replace('\uFEFF', '').trim(),
  ).data;
  const json = await mirela.call('progressJson', { params, query });
  expect(json.about).toMatchObject({ group: 'Gullhaven', says: 'Done or under way', filter: filters[1] });
  expect([json.columns, ...json.rows.map((row) => json.columns.map((title) => String(row[title] ?? '')))]).toEqual(
    csv.map((line) => line.map((cell) => cell.replace(/^'(?==)/u, ''))),
  );
  const sheets = await readXlsxFile(await download({ ...query, sheets: 'groups' }));
  const [whole, ...rest] = sheets;
  const apart = rest.filter(({ sheet }) => sheet !== 'About');
  const lines = (list: typeof sheets): string[] =>
    [...new Set(list.flatMap(({ data }) => data.slice(1).map(([family, given]) => `${shown(given)} ${shown(family)}`)))].sort();
  expect(apart.map(({ sheet }) => sheet)).toEqual(expect.arrayContaining(['Cadets', 'A watch']));
  expect(lines(apart)).toEqual(lines(whole ? [whole] : []));
  for (const paper of ['A4', 'Letter'] as const)
    for (const view of ['groups', 'learners', 'course', 'beside'] as const) {
      const answer = await mirela.send('progressPdf', { params, query: { view, paper, filter, groups: `${inshore},${cadets}` } });
      const text = Buffer.from(await answer.arrayBuffer()).toString('latin1');
      expect([answer.status, text.startsWith('%PDF-')]).toEqual([200, true]);
      expect(text).toContain(paper === 'A4' ? '/MediaBox [0 0 841.89 595.28]' : '/MediaBox [0 0 792 612]');
    }
});

test('a file of many rows is made as a job: the same as at once, its maker’s alone, and gone with the power, its day or an erasure', async () => {
  const ottoline = await site.as('ottoline');
  const params = { groupId: gullhaven };
  const query = { view: 'learners', filter: JSON.stringify(filters[1]) } as const;
  const made = async (file: 'progressLearnersFile' | 'progressJson' | 'progressWorkbook') => {
    const requestId = randomUUID();
    const asked = file === 'progressLearnersFile' ? { filter: query.filter } : query;
    const start = () => ottoline.call('startFile', { params, body: { file, query: asked, requestId } });
    const { jobId } = await start();
    // Sent again, it is the same job.
    expect(await start()).toEqual({ jobId });
    let sheet = await ottoline.call('job', { params: { jobId } });
    for (let n = 0; sheet.state === 'waiting' && n < 300; n++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      sheet = await ottoline.call('job', { params: { jobId } });
    }
    expect(sheet).toMatchObject({ state: 'done', problem: null, done: 1000 });
    return { jobId, fileName: sheet.fileName };
  };
  const fetched = async (jobId: string, who = ottoline): Promise<[number, string]> => {
    const answer = await who.send('madeFile', { params: { jobId } });
    return [answer.status, await answer.text()];
  };
  const file = await made('progressLearnersFile');
  expect(file.fileName).toMatch(/^learners-3-.*\.csv$/u);
  const atOnce = (await ottoline.call('progressLearnersFile', { params, query: { filter: query.filter } })).replace('\uFEFF', '');
  expect((await fetched(file.jobId))[1].replace('\uFEFF', '')).toBe(atOnce);
  const json = await made('progressJson');
  expect(JSON.parse((await fetched(json.jobId))[1])).toEqual(await ottoline.call('progressJson', { params, query }));
  // Another’s job is nowhere, an administrator’s too; what the address would refuse is refused before it is a job.
  expect((await fetched(file.jobId, mirela))[0]).toBe(404);
  for (const wrong of [{ view: 'nothing' }, { view: 'learners', day: '2026-02-30' }, { view: 'learners', filter: '[{"part":"wrong"}]' }])
    expect(
      (await ottoline.send('startFile', { params, body: { file: 'progressJson', query: wrong, requestId: randomUUID() } })).status,
    ).toBe(400);
  // Side by side with a group of another branch: it is made with its maker's own powers.
  const beside = { view: 'beside', groups: '4,20' };
  const { jobId } = await ottoline.call('startFile', { params, body: { file: 'progressJson', query: beside, requestId: randomUUID() } });
  let state = 'waiting';
  for (let n = 0; state === 'waiting' && n < 300; n++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    const sheet = await ottoline.call('job', { params: { jobId } });
    state = sheet.state;
    if (state !== 'waiting') expect(sheet).toMatchObject({ state: 'failed', problem: 'not-found', fileName: null });
  }

  const workbook = await made('progressWorkbook');
  await execute(
    site.databaseUrl,
    `update leadership set powers = array_remove(powers, 'export') where person_id = (select person_id from personal_now where sign_in_name = 'ottoline')`,
  );
  expect((await fetched(workbook.jobId))[0]).toBe(404);
  await execute(site.databaseUrl, `update made_file set made_at = now() - interval '25 hours' where job_id = '${file.jobId}'`);
  await sweep(site.deps.db);
  expect(await execute(site.databaseUrl, `select job_id as id from made_file where job_id = '${file.jobId}'`)).toEqual([]);
  const [somebody] = await execute<{ id: number }>(
    site.databaseUrl,
    `select person_id::int as id from membership where group_id = ${cadets} and until_at is null order by 1 desc limit 1`,
  );
  await mirela.apply({ kind: 'erase-person', personId: somebody?.id ?? 0 });
  expect(await execute(site.databaseUrl, 'select 1 from made_file')).toEqual([]);
});
