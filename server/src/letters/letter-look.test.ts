import { letterKinds } from '@gate-roster/core';
import { execute, type Site, startSite } from '../testing/site.ts';
import { writeLetters } from './write-letters.ts';

/* Who a branch's letters come from by name, the picture over them, and to whom letters go that can wait. */

const [gullhaven, crew] = [3, 7];
/** One pixel, as PNG. */
const png = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==';
let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

/** The letter that this person has in the mailbox, once it has arrived. */
async function arrived(email: string): Promise<{ sender: string; subject: string; html: string }> {
  for (;;) {
    const [letter] = await execute<{ sender: string; subject: string; html: string }>(
      site.databaseUrl,
      `select sender, subject, html from received_mail where recipient = '${email}' order by id desc limit 1`,
    );
    if (letter) return letter;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
const invite = (email: string, groupId: number) => ({
  kind: 'set-leaders' as const,
  groupId,
  begin: [{ who: { givenName: 'Ada', familyName: 'Fenn', email }, powers: ['seeProgress' as const], firstDay: null, lastDay: null }],
  end: [],
});

test('letters of a branch carry its name and logo, the nearest one up counts, and other branches’ do not', async () => {
  const [mirela, ottoline] = [await site.as('mirela'), await site.as('ottoline')];
  const { id: logoId } = await ottoline.call('upload', { body: { fileName: 'logo.png', base64: png } });
  const { changeId } = await ottoline.apply({
    kind: 'set-letter-look',
    groupId: gullhaven,
    look: { senderName: 'Gullhaven crew', logoId },
  });
  expect((await ottoline.call('letters', { params: { groupId: crew } })).look).toEqual({
    senderName: 'Gullhaven crew',
    logoId,
    from: { id: gullhaven, name: 'Gullhaven' },
  });
  await mirela.apply(invite('ada@fenn.example', crew));
  const letter = await arrived('ada@fenn.example');
  expect(letter.sender).toBe('Gullhaven crew');
  expect(letter.html).toContain(`src="data:image/png;base64,${png}" alt="Gullhaven crew"`);
  await mirela.apply(invite('bo@fenn.example', 20));
  const other = await arrived('bo@fenn.example');
  expect([other.sender, other.html.includes('<img')]).toEqual(['Gate Roster', false]);

  await ottoline.apply({ kind: 'undo', changeId });
  expect((await ottoline.call('letters', { params: { groupId: crew } })).look).toMatchObject({
    senderName: 'Gullhaven station',
    logoId: null,
  });
  await ottoline.apply({ kind: 'set-letter-look', groupId: gullhaven, look: null });
  expect((await ottoline.call('letters', { params: { groupId: crew } })).look).toEqual({ senderName: null, logoId: null, from: null });
});

test('a name holds no address and no line end, a logo is one’s own picture', async () => {
  const [mirela, ottoline] = [await site.as('mirela'), await site.as('ottoline')];
  const look = (wanted: object) =>
    ottoline.send('look', { body: { change: { kind: 'set-letter-look', groupId: gullhaven, look: wanted } } });
  for (const senderName of ['a <b@c.example>', 'a@b.example', 'A\r\nBcc: x', '', 'x'.repeat(81)])
    expect((await look({ senderName, logoId: null })).status).toBe(400);
  expect((await look({ senderName: null, logoId: null })).status).toBe(400);
  const { id: ofMirela } = await mirela.call('upload', { body: { fileName: 'logo.png', base64: png } });
  const { id: text } = await ottoline.call('upload', { body: { fileName: 'a.txt', base64: 'YWJj' } });
  for (const logoId of [ofMirela, text, 999_999])
    expect(((await (await look({ senderName: null, logoId })).json()) as { conflicts: { code: string }[] }).conflicts).toMatchObject([
      { code: 'not a picture', blocks: true },
    ]);
});

test('who wants no letters that can wait gets only urgent ones of them, each with an address that stops them, and all other letters', async () => {
  const [to = { personId: 0, address: '', groupId: gullhaven, values: {} }] = await execute<{
    personId: number;
    address: string;
    groupId: number;
    values: object;
  }>(
    site.databaseUrl,
    `select person_id::int as "personId", confirmed_email::text as address, ${gullhaven} as "groupId", '{"name": "Ada", "title": "T", "words": "W", "link": "l"}'::jsonb as values
     from personal_now where sign_in_name = 'ottoline'`,
  );
  const write = async (isUrgent: boolean): Promise<string[]> => {
    const written: string[] = [];
    for (const kind of letterKinds) if ((await writeLetters(site.deps.db, site.url, kind, [{ ...to, isUrgent }])) > 0) written.push(kind);
    return written;
  };
  const stoppable = async (): Promise<string[]> =>
    (
      await execute<{ kind: string }>(
        site.databaseUrl,
        `select distinct l.kind from letter l join person p on p.id = l.person_id where p.id = ${to.personId} and l.stop_url like '%' || p.stop_key and l.body like '%/stop-letters#' || p.stop_key || '%' order by 1`,
      )
    ).map(({ kind }) => kind);
  const choose = (letters: string): Promise<object[]> =>
    execute(
      site.databaseUrl,
      `update person set letters = '${letters}' where id = ${to.personId}; delete from letter where person_id = ${to.personId}`,
    );
  await choose('once a day');
  const all = await write(false);
  const canWait = await stoppable();
  expect(canWait).toEqual(['messages', 'report', 'rule told', 'seat', 'work waits']);
  await choose('never');
  expect(await write(false)).toEqual(all.filter((kind) => !canWait.includes(kind)));
  expect(await stoppable()).toEqual([]);
  expect(await write(true)).toEqual(all);
  expect(await stoppable()).toEqual(canWait);
});
