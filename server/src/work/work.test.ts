import { randomUUID } from 'node:crypto';
import type { Change } from '@gate-roster/contract';
import { type HandIn, type MarkedVersion, resultOfWork } from '@gate-roster/core';
import fc from 'fast-check';
import sharp from 'sharp';
import { remindMarkers } from './remind-markers.ts';
import { sign } from '../http/signature.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { gullhaven } from '../testing/outside-changes.ts';

/* Handing in, marking, and what comes of both. */

let site: Site;
let mirela: Client;
let ottoline: Client;
let bao: Client;
const course = 5;
const inshore = 4;
let activity: number;
const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);

beforeEach(async () => {
  site = await startSite();
  [mirela, ottoline, bao] = await Promise.all([site.as('mirela'), site.as('ottoline'), site.as('bao')]);
  const [found] = await query<{ id: string }>(`select id from activity_now where course_id = ${course} and finished_by = 'marker'`);
  activity = Number(found?.id);
});
afterEach(() => site.stop());

const given = { words: 'Bow line first.', link: null, skillIds: [] as number[], handIn: true };
const handIn = async (more: Partial<typeof given> = {}): Promise<number> =>
  (await bao.call('saveWork', { params: { activityId: activity }, body: { ...given, ...more } })).versionId;
const markOf = (
  versionId: number,
  score: number | null,
  more: Partial<Extract<Change, { kind: 'mark-work' }>['marks'][number]> = {},
): Change => ({
  kind: 'mark-work',
  marks: [
    {
      versionId,
      verdict: score === null ? 'sent back' : 'marked',
      score,
      points: null,
      skillIds: [],
      comment: 'So.',
      corrects: null,
      ...more,
    },
  ],
});
const mine = async () => {
  const { activities } = await bao.call('myWork', { params: { courseId: course } });
  const own = activities.find(({ id }) => id === activity);
  if (!own) throw new Error('not there');
  return own;
};
const waiting = async (who: Client): Promise<number[]> =>
  (await who.call('handedIn', { params: { groupId: gullhaven }, query: { courseId: course, limit: 200 } })).pieces.map(
    ({ versionId }) => versionId,
  );
async function launched(): Promise<string> {
  const { address } = await bao.call('launch', { params: { courseId: course } });
  const found = /[0-9a-f-]{36}/u.exec(address)?.[0];
  if (!found) throw new Error('no launch');
  return found;
}
async function asSource(content: object | null, path = '/api/v1/source/work'): Promise<Response> {
  const [{ secret } = { secret: '' }] = await query<{ secret: string }>(`select secret from source where key = 'player'`);
  const [body, time] = [content === null ? '' : JSON.stringify(content), new Date().toISOString()];
  const method = content === null ? 'GET' : 'POST';
  return fetch(site.url + path, {
    method,
    headers: {
      'content-type': 'application/json',
      'x-source': 'player',
      'x-time': time,
      'x-signature': sign(secret, { method, path, time, body }),
    },
    ...(content === null ? {} : { body }),
  });
}
const stop = async (who: Client, change: Change): Promise<string[]> => {
  const look = await who.call('look', { body: { change } });
  return look.conflicts.flatMap(({ code, blocks }) => (blocks ? [code] : []));
};

test('a piece is drafted, handed in, taken back, sent back, handed in again and marked; the learner sees each step', async () => {
  const draft = await handIn({ handIn: false });
  expect(await waiting(ottoline)).not.toContain(draft);
  const version = await handIn();
  expect(version).toBe(draft);
  expect(await waiting(ottoline)).toContain(version);
  expect((await mine()).canHandIn).toBe(false);
  await bao.call('takeBackWork', { params: { activityId: activity } });
  expect(await waiting(ottoline)).not.toContain(version);
  expect(
    await query(
      `select 1 from activity_result where activity_id = ${activity} and enrolment_id in (select id from enrolment where person_id = (select person_id from personal_now where sign_in_name = 'bao'))`,
    ),
  ).toEqual([]);
  await handIn();
  await ottoline.apply(markOf(version, null, { comment: 'Say where the wind was.' }));
  const back = await mine();
  expect(back.canHandIn).toBe(true);
  expect(back.versions.at(-1)).toMatchObject({ state: 'sent back', mark: { comment: 'Say where the wind was.', by: 'Ottoline Brandt' } });
  const second = await handIn({ words: 'Wind on the quay side.' });
  expect(second).not.toBe(version);
  const [skill] = (await ottoline.call('workSheet', { params: { versionId: second } })).asks.skillIds;
  await ottoline.apply(markOf(second, 15, { skillIds: [skill ?? 0] }));
  expect(await mine()).toMatchObject({ finished: true, score: 75, canHandIn: false });
  expect((await bao.call('mySkills', {})).skills).toHaveLength(1);
  const sheet = await ottoline.call('workSheet', { params: { versionId: second } });
  expect(sheet.earlier.map(({ state }) => state)).toEqual(['sent back']);
  const { skills } = await ottoline.call('skillsOffered', { params: { groupId: inshore } });
  const shown = skills.find(({ skillId }) => skillId === skill);
  const { people } = await ottoline.call('skillPeople', { params: { groupId: inshore, skillId: skill ?? 0 } });
  expect(people).toHaveLength(shown?.people ?? -1);
  expect(people.find(({ givenName }) => givenName === 'Bao')).toMatchObject({ by: ['Ottoline Brandt'] });
});

test('a corrected mark keeps the earlier one; undo puts it back, and the undo of a mark lets the piece wait again', async () => {
  const version = await handIn();
  const { changeId: first } = await ottoline.apply(markOf(version, 4));
  expect(await mine()).toMatchObject({ finished: false, score: 20 });
  const sheet = await ottoline.call('workSheet', { params: { versionId: version } });
  const { changeId: second } = await ottoline.apply(markOf(version, 20, { corrects: sheet.version.mark?.id ?? 0 }));
  expect(await mine()).toMatchObject({ finished: true, score: 100 });
  const after = await ottoline.call('workSheet', { params: { versionId: version } });
  expect(after.corrected.map(({ score }) => score)).toEqual([4]);
  await ottoline.apply({ kind: 'undo', changeId: second });
  expect(await mine()).toMatchObject({ finished: false, score: 20 });
  await ottoline.apply({ kind: 'undo', changeId: first });
  expect(await waiting(ottoline)).toContain(version);
  expect(await mine()).toMatchObject({ finished: false, score: null });
});

test('two markers never mark the same piece: one has it open, and what was marked meanwhile is said', async () => {
  const version = await handIn();
  expect((await ottoline.call('claimWork', { params: { versionId: version }, body: { take: true } })).takenBy).toBeNull();
  expect((await mirela.call('claimWork', { params: { versionId: version }, body: { take: true } })).takenBy).toBe('Ottoline Brandt');
  expect(await stop(mirela, markOf(version, 12))).toEqual(['taken by another']);
  expect((await bao.send('takeBackWork', { params: { activityId: activity } })).status).toBe(409);
  await query(`update work_claim set until_at = now() - interval '1 second'`);
  await mirela.apply(markOf(version, 12));
  expect(await stop(ottoline, markOf(version, 16))).toEqual(['marked meanwhile']);
});

test('of two marks that come at the same moment one counts, and the other is told', async () => {
  const version = await handIn();
  const [first, second] = await Promise.all(
    [mirela, ottoline].map(async (who, place) => {
      const change = markOf(version, 10 + place);
      const { digest } = await who.call('look', { body: { change } });
      return { who, body: { change, digest, requestId: randomUUID() } };
    }),
  );
  const answers = await Promise.all([first, second].flatMap((each) => (each ? [each.who.send('apply', { body: each.body })] : [])));
  const statuses = answers.map(({ status }) => status).sort();
  expect(statuses[0]).toBe(200);
  expect([409, 503]).toContain(statuses[1]);
  expect(await query(`select 1 from mark where version_id = ${version} and until_at is null`)).toHaveLength(1);
});

test('bad marks and work: beyond the best, skills and lines that do not fit, own work, links to us, people who left', async () => {
  const version = await handIn();
  const wrong = async (change: Change): Promise<number> => (await ottoline.send('look', { body: { change } })).status;
  expect(await wrong(markOf(version, 21))).toBe(400);
  expect(await wrong(markOf(version, 10, { skillIds: [999] }))).toBe(400);
  expect(await wrong(markOf(version, 10, { points: [5, 5] }))).toBe(400);
  expect(await wrong(markOf(999_999, 10))).toBe(404);
  const save = async (body: object): Promise<number> =>
    (await bao.send('saveWork', { params: { activityId: activity }, body: { ...given, ...body } })).status;
  expect(await save({ handIn: true })).toBe(409);
  await ottoline.apply(markOf(version, null));
  expect(await save({ link: 'javascript:alert(1)' })).toBe(400);
  expect(await save({ link: `${site.url}/log` })).toBeGreaterThanOrEqual(400);
  expect(await save({ words: '  ' })).toBe(422);
  const [{ id: baoId } = { id: 0 }] = await query<{ id: number }>(
    `select person_id::int as id from personal_now where sign_in_name = 'bao'`,
  );
  for (const { id } of await query<{ id: number }>(
    `select group_id::int as id from membership where until_at is null and person_id = ${baoId}`,
  ))
    await mirela.apply({ kind: 'remove-members', groupId: id, personIds: [baoId] });
  expect(await wrong(markOf(version, 10, { corrects: 1 }))).toBe(404);
});

test('a picture is written again without what the camera said, a file is what its bytes say, and its address ends', async () => {
  const picture = await sharp({ create: { width: 3000, height: 1200, channels: 3, background: '#123456' } })
    .withExif({ IFD0: { Copyright: 'Somebody', Artist: 'Somebody' } })
    .jpeg()
    .toBuffer();
  const add = (fileName: string, content: Buffer) =>
    bao.send('addWorkFile', { params: { activityId: activity }, body: { fileName, base64: content.toString('base64') } });
  expect((await add('quay.jpg', picture)).status).toBe(200);
  expect((await add('page.txt', Buffer.from('<script>alert(1)</script>'))).status).toBe(200);
  expect(
    (await add('broken.png', Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), Buffer.alloc(20)]))).status,
  ).toBe(422);
  const version = await handIn();
  const { files } = (await ottoline.call('workSheet', { params: { versionId: version } })).version;
  expect(files.map(({ mimeType }) => mimeType)).toEqual(['image/jpeg', 'text/plain']);
  const answer = await fetch(site.url + (files[0]?.address ?? ''));
  expect([answer.status, answer.headers.get('content-type'), answer.headers.get('content-disposition')?.slice(0, 10)]).toEqual([
    200,
    'application/octet-stream',
    'attachment',
  ]);
  const kept = await sharp(Buffer.from(await answer.arrayBuffer())).metadata();
  expect([kept.width, kept.exif]).toEqual([2000, undefined]);
  expect((await fetch(`${site.url}${files[0]?.address?.slice(0, -1)}x`)).status).toBe(404);
});

test('a source hands in once per id, and only for a launch of its own course', async () => {
  const launchId = await launched();
  const sent = { id: randomUUID(), launchId, activityId: activity, words: 'From the player.', link: null };
  const [first, again] = [await asSource(sent), await asSource(sent)];
  expect(await again.json()).toEqual(await first.json());
  expect((await asSource({ ...sent, id: randomUUID(), activityId: 1 })).status).toBe(404);
  expect((await mine()).versions).toHaveLength(1);
});

test('the nearest leaders who mark are written to about what has waited for three days, once, and once a day', async () => {
  // What the site itself writes after its start: if it does so now, the update waits until it is done.
  await query(`update work_version set reminded_at = now() where state = 'waiting'`);
  await query(`delete from letter where kind = 'work waits'`);
  const version = await handIn();
  const { db } = site.deps;
  const remind = async (days: number): Promise<string[]> => {
    await remindMarkers(db, new Date(Date.now() + days * 86_400_000), site.url);
    return (await query<{ subject: string }>(`select subject from letter where kind = 'work waits' order by id`)).map(
      ({ subject }) => subject,
    );
  };
  expect(await remind(2)).toEqual([]);
  const sent = await remind(3.1);
  expect(sent.length).toBeGreaterThan(0);
  expect(new Set(sent)).toEqual(new Set(['A piece of work waits to be marked']));
  const markers = await query<{ id: number }>(
    `select distinct l.person_id::int as id from letter l where l.kind = 'work waits' and not exists (
       select 1 from leadership k join group_branch b on b.ancestor_id = k.group_id join membership m on m.group_id = b.group_id and m.until_at is null
       join enrolment e on e.person_id = m.person_id join work w on w.enrolment_id = e.id join work_version v on v.work_id = w.id and v.id = ${version}
       where k.person_id = l.person_id and k.until_at is null and 'markWork' = any(k.powers))`,
  );
  expect(markers).toEqual([]);
  expect(await remind(3.2)).toEqual(sent);
});

test('in whatever order work is handed in, marked, corrected, undone and reported by the player, result and status are what a fold over them gives', async () => {
  const [asks] = await query<{ hand_in: HandIn }>(`select hand_in from activity_now where id = ${activity}`);
  const handInAsked = asks?.hand_in;
  if (!handInAsked) throw new Error('not marked');
  const others = await query<{ id: number }>(
    `select id::int as id from activity_now where course_id = ${course} and finished_by = 'player' and scored order by id`,
  );
  const launchId = await launched();
  const reported: { id: string; activity: number; score: number; isVoided: boolean }[] = [];
  const report = (id: string, activityId: number, score: number): Promise<Response> =>
    asSource(
      [
        {
          id,
          actor: { account: { homePage: site.url, name: launchId } },
          verb: { id: 'http://adlnet.gov/expapi/verbs/completed' },
          object: { id: `${site.url}/activities/${activityId}` },
          result: { completion: false, score: { scaled: score / 100 } },
          timestamp: new Date().toISOString(),
        },
      ],
      '/api/v1/source/statements',
    );
  const takeBackReport = (id: string): Promise<Response> =>
    asSource(
      [{ id: randomUUID(), verb: { id: 'http://adlnet.gov/expapi/verbs/voided' }, object: { objectType: 'StatementRef', id } }],
      '/api/v1/source/statements',
    );
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(fc.nat(7), fc.nat(20)), { minLength: 4, maxLength: 12 }), async (steps) => {
      const made: number[] = [];
      for (const [what, score] of steps) {
        const current = await mine();
        const last = current.versions.at(-1);
        if (what === 0 && current.canHandIn) await handIn({ words: `Try ${score}` });
        else if (what === 1 && last?.state === 'waiting' && last.mark === null)
          await bao.call('takeBackWork', { params: { activityId: activity } });
        else if (what === 2 && last && last.state !== 'draft')
          made.push((await ottoline.apply(markOf(last.id, score, { corrects: last.mark?.id ?? null }))).changeId);
        else if (what === 3 && last?.state === 'waiting') made.push((await ottoline.apply(markOf(last.id, null))).changeId);
        else if (what === 4) {
          const changeId = made.pop();
          const look = changeId && (await ottoline.call('look', { body: { change: { kind: 'undo', changeId } } }));
          if (changeId && look && !look.conflicts.some(({ blocks }) => blocks)) await ottoline.apply({ kind: 'undo', changeId });
        } else if (what === 5) {
          const played = others[score % others.length]?.id ?? 0;
          const id = randomUUID();
          expect((await report(id, played, score * 5)).status).toBe(200);
          reported.push({ id, activity: played, score: score * 5, isVoided: false });
        } else if (what === 6 && reported.length > 0) {
          const one = reported[score % reported.length];
          if (!one) continue;
          expect((await takeBackReport(one.id)).status).toBe(200);
          one.isVoided = true;
        } else if (what === 7) {
          // The void overtakes what it voids.
          const id = randomUUID();
          expect((await takeBackReport(id)).status).toBe(200);
          expect((await report(id, others[score % others.length]?.id ?? 0, 100)).status).toBe(200);
        }
        const now = await mine();
        const versions = now.versions
          .filter(({ state }) => state !== 'draft')
          .map(({ handedInAt, isLate, mark }): MarkedVersion => ({
            handedInAt: handedInAt ?? '',
            isLate,
            mark: mark && (mark.verdict === 'marked' ? { verdict: 'marked', score: mark.score ?? 0 } : { verdict: 'sent back' }),
          }));
        const expected = resultOfWork(versions, handInAsked);
        expect({ finished: now.finished, score: now.score }).toEqual({
          finished: expected?.finished ?? false,
          score: expected?.score ?? null,
        });
        const { courses } = await bao.call('myCourses', {});
        const status = courses.find(({ id }) => id === course);
        // Of several tries the best counts, of those that stand.
        const best = new Map<number, number>();
        for (const { activity: of, score: got, isVoided } of reported) if (!isVoided) best.set(of, Math.max(best.get(of) ?? 0, got));
        const scores = [...best.values(), ...(expected?.score == null ? [] : [expected.score])];
        const mean = scores.reduce((sum, each) => sum + each, 0) / scores.length;
        expect(status?.status).toBe(expected === null && best.size === 0 ? 'not begun' : 'under way');
        expect(status?.score).toEqual(scores.length === 0 ? null : expect.closeTo(mean, 6));
      }
    }),
    { numRuns: 8 },
  );
}, 180_000);

test('a launch tells its source what is open and what is finished, and no other source', async () => {
  const launch = await launched();
  const answer = await asSource(null, `/api/v1/source/launches/${launch}`);
  const outline = (await answer.json()) as { course: { id: number }; learner: string; units: { activities: { id: number }[] }[] };
  expect([outline.course.id, outline.learner]).toEqual([course, 'Bao']);
  expect(outline.units.flatMap(({ activities }) => activities.map(({ id }) => id))).toContain(activity);
  expect((await asSource(null, '/api/v1/source/launches/00000000-0000-4000-8000-000000000000')).status).toBe(404);
  await query(`update launch set ends_at = now() where id = '${launch}'`);
  expect((await asSource(null, `/api/v1/source/launches/${launch}`)).status).toBe(404);
});
