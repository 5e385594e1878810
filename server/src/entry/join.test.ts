import { type JoinCodeValues, writeFilter } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { plainCode } from './plain-code.ts';
import { makeCode as newCode } from '../testing/make-code.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Coming in by a code: registering, as oneself, by decision; limits, letters, and what strangers learn. */
const gullhaven = 3;
const shore = 7;
let site: Site;
let admin: Client;
let head: Client;
beforeAll(async () => {
  site = await startSite();
  admin = await site.as('mirela');
  head = await site.as('ottoline');
});
afterAll(() => site.stop());

const plain: JoinCodeValues = { ...plainCode, groupIds: [shore], asks: { ...plainCode.asks, email: 'may' } };
const makeCode = (client: Client, values: Partial<JoinCodeValues>) => newCode(client, admin, { ...plain, ...values });
const nobody = { familyName: 'Newcomer', email: '', idNumber: '', answers: {} };
const given = (givenName: string, more: object = {}) => ({ givenName, ...nobody, ...more });
const stranger = (): Promise<Client> => site.as(null);
const register = async (code: string, who: ReturnType<typeof given>) => {
  const client = await stranger();
  return {
    client,
    answer: await client.call('join', { body: { requestId: randomUUID(), code, password: 'four quiet harbour seals', given: who } }),
  };
};
const refusal = async (answer: Response): Promise<string> => {
  const { status, code } = (await answer.json()) as { status: number; code: string };
  return `${status} ${code}`;
};
const people = async (groupId: number): Promise<number> => (await admin.call('group', { params: { groupId } })).people.counted;
const askingAt = async (client: Client, groupId: number) => (await client.call('requests', { params: { groupId } })).requests;

describe('a join code', () => {
  it('shows what it opens, registers, puts in every group with its tags, and signs in', async () => {
    const { id, code } = await makeCode(head, { groupIds: [shore, 10], tags: ['Spring intake'] });
    const before = await people(gullhaven);
    const offer = await (await stranger()).call('joinLook', { body: { code: code.toLowerCase().replace('-', ' ') } });
    expect(offer.groups.map(({ name }) => name)).toEqual(['Shore crew', 'Tower watch']);
    expect(offer.groups[0]?.leaders).toEqual(['Ottoline Brandt', 'Sefu Marangoz']);
    expect(offer.courses.length).toBeGreaterThan(3);
    const { client, answer } = await register(code, given('Ines'));
    expect(answer).toMatchObject({ outcome: 'in', signInName: expect.stringMatching(/^inewcomer\d\d$/u) as string });
    expect((await client.call('myCourses', {})).groups.map(({ name }) => name).sort()).toEqual(['Shore crew', 'Tower watch']);
    expect(await people(gullhaven)).toBe(before + 1);
    const query = { filter: writeFilter([{ part: 'words', text: 'Ines Newcomer' }]) };
    const found = await head.call('groupPeople', { params: { groupId: gullhaven }, query });
    expect(found.people[0]).toMatchObject({ cameBy: 'join code', tags: [expect.objectContaining({ name: 'Spring intake' })] });
    expect((await head.call('codeUses', { params: { codeId: id } })).uses.map(({ name }) => name)).toEqual(['Ines Newcomer']);
  });

  it('lets in exactly as many as its limit says, of 200 at once', async () => {
    const { id, code } = await makeCode(head, { useLimit: 50 });
    const before = await people(shore);
    const outcomes = await Promise.all(
      Array.from({ length: 200 }, async (_, index) => {
        const answer = await (
          await stranger()
        ).send('join', { body: { requestId: randomUUID(), code, password: 'four quiet harbour seals', given: given(`Many${index}`) } });
        return answer.ok ? 'in' : refusal(answer);
      }),
    );
    const count = (wanted: string): number => outcomes.filter((outcome) => outcome === wanted).length;
    expect({ in: count('in'), over: count('410 code-over') }).toEqual({ in: 50, over: 150 });
    expect(await people(shore)).toBe(before + 50);
    const [made] = await execute<{ uses: number }>(site.databaseUrl, 'select uses from join_code where id = $1', [id]);
    expect(made?.uses).toBe(50);
    // Those refused left nothing behind.
    const [left] = await execute<{ count: number }>(site.databaseUrl, `select count(*)::int from personal where given_name like 'Many%'`);
    expect(left?.count).toBe(50);
  }, 120_000);

  it('is one code to a stranger whether it is wrong, paused, ended, not yet begun or full; only such tries are slowed down', async () => {
    const hour = 3_600_000;
    const at = (ms: number): string => new Date(Date.now() + ms).toISOString();
    const shut = [
      await makeCode(head, { paused: true }),
      await makeCode(head, { lastAt: at(-hour) }),
      await makeCode(head, { firstAt: at(hour) }),
      { code: 'AAAAA-AAAAA' },
    ];
    const client = await stranger();
    const answers = [];
    for (const { code } of shut) {
      const answer = await client.send('joinLook', { body: { code } });
      answers.push(await answer.text());
    }
    expect(new Set(answers).size).toBe(1);
    const open = await makeCode(head, {});
    for (let tries = 0; tries < 60; tries++) await client.send('joinLook', { body: { code: 'CCCCC-CCCCC' } });
    expect(await refusal(await client.send('joinLook', { body: { code: 'CCCCC-CCCCC' } }))).toBe('429 too-many-tries');
    expect((await client.send('joinLook', { body: { code: open.code } })).status).toBe(200);
    await execute(site.databaseUrl, 'delete from rate_limit');
  });

  it('is replaced by another: the old one stops, uses are kept; and what is chosen needs an end and a limit', async () => {
    const { id, code } = await makeCode(head, {});
    await register(code, given('Replaced'));
    await head.apply({ kind: 'edit-code', codeId: id, values: {}, replace: true });
    const now = (await head.call('codes', { params: { groupId: shore } })).codes.find((each) => each.id === id);
    expect(now?.uses).toBe(1);
    expect(now?.code).not.toBe(code);
    expect(await refusal(await (await stranger()).send('joinLook', { body: { code } }))).toBe('410 code-over');
    const chosen = { ...plain, chosen: 'Tern watch 26' };
    const look = await head.call('look', { body: { change: { kind: 'make-code', values: chosen } } });
    expect(look.conflicts).toMatchObject([{ code: 'code needs a limit', blocks: true }]);
    const lastAt = new Date(Date.now() + 86_400_000).toISOString();
    await head.apply({ kind: 'make-code', values: { ...chosen, useLimit: 5, lastAt } });
    expect((await (await stranger()).call('joinLook', { body: { code: 'tern-watch-z6' } })).code).toBe('TERN WATCH 26');
  });

  it('for leaders puts in charge; nobody makes one with powers they lack or for groups that are not theirs', async () => {
    const open = { ...plain, powers: ['seeProgress' as const, 'decideEntry' as const] };
    const look = await head.call('look', { body: { change: { kind: 'make-code', values: open } } });
    expect(look.conflicts.map((each) => each.code)).toEqual([
      'leaders code needs an end',
      'leaders code needs a limit',
      'leaders code needs a decision',
    ]);
    const lastAt = new Date(Date.now() + 86_400_000).toISOString();
    const { code } = await makeCode(head, { powers: open.powers, lastAt, useLimit: 2, needsDecision: true });
    const { answer } = await register(code, given('Lea'));
    expect(answer.outcome).toBe('asking');
    const asking = (await askingAt(head, shore)).find(({ name }) => name === 'Lea Newcomer');
    await head.apply({ kind: 'decide-requests', requestIds: asking?.ids ?? [], decision: 'let in', word: null, asPerson: null });
    const { leaders } = await head.call('group', { params: { groupId: shore } });
    expect(leaders.find(({ name }) => name === 'Lea Newcomer')).toMatchObject({ powers: ['seeProgress', 'decideEntry'] });
    const foreign = { change: { kind: 'make-code', values: { ...plain, groupIds: [shore, 2] } } };
    expect((await head.send('look', { body: foreign })).status).toBe(404);
    const helper = await site.letIn('smarangoz');
    expect((await helper.send('look', { body: { change: { kind: 'make-code', values: plain } } })).status).toBe(404);
  });

  it('takes a known person in with one call, once, and asks strangers for what it was told to ask', async () => {
    const question = { key: 'q', label: 'Boat', kind: 'choice' as const, choices: ['Skua', 'Tern'], required: true };
    const { id, code } = await makeCode(head, { groupIds: [10], asks: { email: 'must', idNumber: 'no', questions: [question] } });
    const bao = await site.as('bao');
    expect(await refusal(await bao.send('joinAsMyself', { body: { requestId: randomUUID(), code, answers: {} } }))).toBe('422 given-wrong');
    expect(await bao.call('joinAsMyself', { body: { requestId: randomUUID(), code, answers: { q: 'Tern' } } })).toEqual({
      inLine: [],
      page: null,
      outcome: expect.stringMatching(/^(in|already)$/u) as string,
    });
    const again = await bao.call('joinAsMyself', { body: { requestId: randomUUID(), code, answers: { q: 'Tern' } } });
    expect(again).toEqual({ outcome: 'already', inLine: [], page: null });
    const wrong = await (
      await stranger()
    ).send('join', {
      body: {
        requestId: randomUUID(),
        code,
        password: 'four quiet harbour seals',
        given: given('Nomail', { email: 'no@mail', answers: { q: 'Gull' } }),
      },
    });
    const problem = (await wrong.json()) as { where: { place: string }[] };
    expect(problem.where.map(({ place }) => place)).toEqual(['email', 'q']);
    const [made] = await execute<{ uses: number }>(site.databaseUrl, 'select uses from join_code where id = $1', [id]);
    expect(made?.uses).toBeLessThanOrEqual(1);
  });

  it('keeps what was answered beside the question as it was, for the code, the person and the file, until the person is erased', async () => {
    const boat = { key: 'q', label: 'Boat', kind: 'text' as const, choices: [], required: true };
    const asks = { email: 'no' as const, idNumber: 'no' as const, questions: [boat] };
    const { id, code } = await makeCode(head, { asks });
    await register(code, given('Answering', { answers: { q: ' =Skua ', other: 'never asked' } }));
    await head.apply({
      kind: 'edit-code',
      codeId: id,
      values: { asks: { ...asks, questions: [{ ...boat, label: 'Vessel' }] } },
      replace: false,
    });
    const answers = [{ label: 'Boat', answer: '=Skua' }];
    const [use] = (await head.call('codeUses', { params: { codeId: id } })).uses;
    expect(use).toMatchObject({ name: 'Answering Newcomer', answers });
    const personId = use?.personId ?? 0;
    expect((await head.call('person', { params: { personId } })).answers).toEqual(answers);
    expect(JSON.stringify(await head.call('personFile', { params: { personId } }))).toContain('=Skua');
    expect(await (await head.send('codeUsesFile', { params: { codeId: id } })).text()).toMatch(
      /Name,Email,When,Boat\r\nAnswering Newcomer,.*,"'=Skua"/u,
    );
    await admin.apply({ kind: 'erase-person', personId });
    expect((await head.call('codeUses', { params: { codeId: id } })).uses[0]).toMatchObject({ name: '', answers: [] });
    expect(await execute(site.databaseUrl, "select 1 from join_code_use where answers::text like '%Skua%'")).toEqual([]);
  });

  it('of young learners asks for no address and names nobody', async () => {
    const young = (await admin.call('tree', {})).groups.find(({ youngLearners, name }) => youngLearners && name === 'Cadets')?.id ?? 0;
    const look = await admin.call('look', { body: { change: { kind: 'make-code', values: { ...plain, groupIds: [young] } } } });
    expect(look.conflicts).toMatchObject([{ code: 'young learners', blocks: true }]);
    const { code } = await makeCode(admin, { groupIds: [young], asks: { email: 'no', idNumber: 'no', questions: [] } });
    const offer = await (await stranger()).call('joinLook', { body: { code } });
    expect(offer).toMatchObject({ youngLearners: true, groups: [expect.objectContaining({ leaders: [] })] });
  });
});

describe('an address', () => {
  const letterTo = async (address: string): Promise<{ subject: string; plain: string }> => {
    for (let tries = 0; tries < 50; tries++) {
      const [found] = await execute<{ subject: string; plain: string }>(
        site.databaseUrl,
        'select subject, plain from received_mail where recipient = $1 order by id desc limit 1',
        [address],
      );
      if (found) return found;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error(`no letter to ${address}`);
  };
  const tokenOf = (plain: string, page: string): string => new RegExp(`/${page}#(?:[^/\\s]+/)?([\\w-]{32})`, 'u').exec(plain)?.[1] ?? '';

  it('counts for an ending only when a letter has shown it to be theirs', async () => {
    const { code } = await makeCode(head, { emailEnding: '@crew.example' });
    const client = await stranger();
    const body = {
      requestId: randomUUID(),
      code,
      password: 'four quiet harbour seals',
      given: given('Ending', { email: 'e@crew.example' }),
    };
    expect(await refusal(await client.send('join', { body }))).toBe('422 needs-confirming');
    expect(await refusal(await client.send('joinConfirm', { body: { code, email: 'e@evilcrew.example' } }))).toBe('422 given-wrong');
    await client.call('joinConfirm', { body: { code, email: 'e@crew.example' } });
    const confirmed = tokenOf((await letterTo('e@crew.example')).plain, 'join');
    expect((await client.call('joinLook', { body: { code, confirmed } })).confirmedEmail).toBe('e@crew.example');
    // Whatever else is typed, the address is the one that was shown.
    const came = await client.call('join', {
      body: { ...body, requestId: randomUUID(), confirmed, given: given('Ending', { email: 'other@crew.example' }) },
    });
    expect(came.outcome).toBe('in');
    const [row] = await execute<{ email: string; confirmed_email: string }>(
      site.databaseUrl,
      `select email, confirmed_email from personal where given_name = 'Ending'`,
    );
    expect(row).toEqual({ email: 'e@crew.example', confirmed_email: 'e@crew.example' });
    expect(await refusal(await (await stranger()).send('join', { body: { ...body, requestId: randomUUID(), confirmed } }))).toBe(
      '410 link-over',
    );
  });

  it('that belongs to an account elsewhere makes an account all the same, and tells nothing of the other', async () => {
    const { code } = await makeCode(head, {});
    const before = await people(shore);
    const [known] = await execute<{ email: string; person_id: number }>(
      site.databaseUrl,
      `select n.email, n.person_id from personal n join membership m on m.person_id = n.person_id where n.confirmed_email is not null and m.group_id = 20 and n.until_at is null and m.until_at is null limit 1`,
    );
    const { answer, client } = await register(code, given('Namesake', { email: known?.email }));
    const fresh = await register(code, given('Namesake', { email: 'never-seen@x.example' }));
    expect(answer).toMatchObject({ outcome: 'in', inLine: [] });
    expect(Object.keys(answer)).toEqual(Object.keys(fresh.answer));
    expect(await people(shore)).toBe(before + 2);
    expect(await client.call('myAccount', {})).toMatchObject({ address: known?.email, isConfirmed: false });
    expect((await letterTo(known?.email ?? '')).subject).toMatch(/^Is this your account/u);
  });
});

describe('a decision', () => {
  it('lets in who asked, with a letter; it can be undone, and then they ask again', async () => {
    const { code } = await makeCode(head, { needsDecision: true });
    const before = await people(shore);
    const { answer, client } = await register(code, given('Asker', { email: 'asker@x.example' }));
    expect(answer).toMatchObject({ outcome: 'asking', me: null });
    expect((await client.send('me')).status).toBe(401);
    const request = (await askingAt(head, gullhaven)).find(({ name }) => name === 'Asker Newcomer');
    expect(request).toMatchObject({ isNew: true, groups: [expect.objectContaining({ id: shore })] });
    const waiting = (await head.call('waiting', {})).people;
    const { changeId } = await head.apply({
      kind: 'decide-requests',
      requestIds: request?.ids ?? [],
      decision: 'let in',
      asPerson: null,
      word: 'Welcome aboard',
    });
    expect((await head.call('waiting', {})).people).toBe(waiting - 1);
    expect(await people(shore)).toBe(before + 1);
    const signedIn = await stranger();
    await signedIn.call('signIn', { body: { signInName: answer.signInName ?? '', password: 'four quiet harbour seals' } });
    await head.apply({ kind: 'undo', changeId });
    expect(await people(shore)).toBe(before);
    expect((await head.call('waiting', {})).people).toBe(waiting);
  });

  it('as somebody known makes the accounts one, and finds them by number or name', async () => {
    const [known] = await execute<{ person_id: number; given_name: string; family_name: string; id_number: string }>(
      site.databaseUrl,
      `select n.person_id, n.given_name, n.family_name, n.id_number from personal n join membership m on m.person_id = n.person_id
       where m.group_id = 7 and m.until_at is null and n.until_at is null and not exists (select 1 from membership o where o.person_id = n.person_id and o.group_id <> 7) order by 1 limit 1`,
    );
    const { code } = await makeCode(head, { groupIds: [10], asks: { email: 'may', idNumber: 'may', questions: [] } });
    // The number is somebody's already, so a human looks, although the code itself needs no decision.
    const { answer } = await register(code, {
      ...given(known?.given_name ?? ''),
      familyName: known?.family_name ?? '',
      idNumber: known?.id_number ?? '',
    });
    expect(answer.outcome).toBe('asking');
    const request = (await askingAt(head, 10)).find(({ idNumber }) => idNumber === known?.id_number);
    expect(request?.matches[0]).toMatchObject({ id: known?.person_id, why: 'ID number' });
    await head.apply({
      kind: 'decide-requests',
      requestIds: request?.ids ?? [],
      decision: 'let in',
      asPerson: known?.person_id ?? 0,
      word: null,
    });
    const sheet = await head.call('person', { params: { personId: known?.person_id ?? 0 } });
    expect(sheet.groups.map(({ id }) => id).sort()).toEqual([10, 7]);
    expect((await admin.call('person', { params: { personId: request?.personId ?? 0 } })).state).toBe('ended');
  });

  it('turns away with a word: the account ends, and a second decider is told', async () => {
    const { code } = await makeCode(head, { needsDecision: true });
    await register(code, given('Turned', { email: 'turned@x.example' }));
    const request = (await askingAt(head, shore)).find(({ name }) => name === 'Turned Newcomer');
    const change = {
      kind: 'decide-requests' as const,
      requestIds: request?.ids ?? [],
      decision: 'turn away' as const,
      asPerson: null,
      word: 'Ask again in spring',
    };
    await head.apply(change);
    const again = await admin.call('look', { body: { change } });
    expect(again.conflicts).toMatchObject([{ code: 'decided since', blocks: true }]);
    const [state] = await execute<{ state: string }>(
      site.databaseUrl,
      'select state from person_state where person_id = $1 and until_at is null',
      [request?.personId],
    );
    expect(state?.state).toBe('ended');
  });

  it('about others’ groups does not exist for a leader', async () => {
    const elsewhere = (await askingAt(admin, 1)).find(({ groups }) => groups.every(({ id }) => id !== shore && id !== 10));
    expect(elsewhere).toBeDefined();
    expect((await askingAt(head, gullhaven)).some(({ personId }) => personId === elsewhere?.personId)).toBe(false);
    const change = { kind: 'decide-requests', requestIds: elsewhere?.ids, decision: 'let in', asPerson: null, word: null };
    expect((await head.send('look', { body: { change } })).status).toBe(404);
  });
});
