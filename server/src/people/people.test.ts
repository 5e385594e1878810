import { writeFilter } from '@gate-roster/contract';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

const list = (query: object, groupId = 1) => mirela.call('groupPeople', { params: { groupId }, query });
const words = (text: string): object => ({ filter: writeFilter([{ part: 'words', text }]) });

test('search finds any part of name, address, sign-in name and ID number, without wild cards of its own', async () => {
  const [someone] = (await list({ limit: 1, ...words('petrossian') })).people;
  for (const search of [someone?.givenName, someone?.idNumber?.toLowerCase(), someone?.email?.slice(2, 12)]) {
    if (search) expect((await list({ ...words(search), limit: 200 })).people.map(({ id }) => id)).toContain(someone?.id);
  }
  expect((await list(words('%'))).matching).toBe(0);
  expect((await list(words('_'))).matching).toBe(0);
  expect((await list(words("o'); drop table person; --"))).matching).toBe(0);
});

test('a tag narrows the list, and says how many of how many', async () => {
  const { tags } = await mirela.call('branchTags', { params: { groupId: 3 } });
  const radio = tags.find(({ name }) => name === 'radio');
  const page = await list({ filter: writeFilter([{ part: 'tags', how: 'any', ids: [radio?.id ?? 0] }]), limit: 200 }, 3);
  expect(page.people.every(({ tags: own }) => own.some(({ name }) => name === 'radio'))).toBe(true);
  // Tags count all people of the branch, the list those who count.
  expect([page.matching <= (radio?.people ?? 0), page.matching === page.people.length, page.total > page.matching]).toEqual([
    true,
    true,
    true,
  ]);
});

test('sorting by activity pages through everybody, those never active last', async () => {
  const seen: (string | null)[] = [];
  for (let after: string | undefined; ;) {
    const page = await list({ sort: '-active', limit: 60, ...(after ? { after } : {}) }, 3);
    seen.push(...page.people.map(({ activeAt }) => activeAt));
    if (page.next === null) break;
    after = page.next;
  }
  expect(seen).toHaveLength((await list({}, 3)).total);
  expect(seen.map((at) => at ?? '')).toEqual(
    seen
      .map((at) => at ?? '')
      .sort()
      .reverse(),
  );
});

test('a person in several groups stands once in the branch, with each of them', async () => {
  const { people } = await list(words('Bao Petrossian'), 3);
  expect(people).toMatchObject([{ groups: [{ name: 'Cadets' }, { name: 'Inshore crew' }] }]);
  expect((await list({ ...words('Bao Petrossian'), subgroups: 'no' }, 3)).people).toEqual([]);
});

test('why tells both paths of somebody who is blocked by one crew and gets in by the other', async () => {
  const [bao] = await execute<{ id: number }>(site.databaseUrl, `select person_id::int as id from personal_now where sign_in_name = 'bao'`);
  const { courses } = await mirela.call('person', { params: { personId: bao?.id ?? 0 } });
  const boats = courses.find(({ name }) => name === 'Boat handling 1');
  expect(boats).toMatchObject({ open: true, units: 5 });
  expect(boats?.why.filter(({ verdict }) => verdict === 'decided').map(({ effect, at, path }) => [effect, at?.name, path?.name])).toEqual(
    expect.arrayContaining([
      ['block', 'Cadets', 'Cadets'],
      ['open', 'Gullhaven', 'Inshore crew'],
    ]),
  );
  // A firm block holds whatever other groups say.
  const night = courses.find(({ name }) => name === 'Night navigation');
  expect(night).toMatchObject({ open: false, opensLater: null });
});

test('the cookie cannot be read by scripts, changes at sign-in, and pages forbid foreign script', async () => {
  const first = await fetch(`${site.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ signInName: 'ottoline', password: 'lantern-over-water' }),
  });
  const cookie = first.headers.getSetCookie()[0] ?? '';
  expect(cookie).toMatch(/HttpOnly/u);
  expect(cookie).toMatch(/SameSite=Lax/u);
  const again = await fetch(`${site.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: cookie.split(';')[0] ?? '' },
    body: JSON.stringify({ signInName: 'ottoline', password: 'lantern-over-water' }),
  });
  expect(again.headers.getSetCookie()[0]?.split(';')[0]).not.toBe(cookie.split(';')[0]);
  const old = await fetch(`${site.url}/api/v1/session`, { headers: { cookie: cookie.split(';')[0] ?? '' } });
  expect(old.status).toBe(401);
  const policy = first.headers.get('content-security-policy') ?? '';
  expect(policy).toContain("script-src 'self'");
  expect(policy).not.toContain('unsafe-eval');
  expect(first.headers.get('referrer-policy')).toBe('no-referrer');
});

test('a sign-in name has the prefix of the nearest group that has one, and digits where a leader makes it', async () => {
  await mirela.apply({ kind: 'edit-group', groupId: 3, values: { signInPrefix: 'Gull' } });
  const bring = (fullName: string) => ({
    kind: 'bring-in-roster' as const,
    into: 7,
    fileName: null,
    hasGroupColumn: false,
    dateOrder: 'dayFirst' as const,
    rows: [{ row: 1, cells: { fullName } }],
  });
  await mirela.apply(bring('Wren Ashgrove'));
  const ottoline = await site.as('ottoline');
  await ottoline.apply(bring('Finn Mossbank'));
  const names = await execute<{ name: string }>(
    site.databaseUrl,
    `select sign_in_name as name from personal_now where family_name in ('Ashgrove', 'Mossbank') order by family_name`,
  );
  expect(names.map(({ name }) => name)).toEqual(['gullwashgrove', expect.stringMatching(/^gullfmossbank\d\d$/u)]);
});
