import { type AccountFacts, branchesWith, showJoinCode, type Tree } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { noteAct } from '../changes/note-act.ts';
import { firstOf, ids, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { mayHelp } from './may-help.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { momentInWords, writeLetters } from '../letters/write-letters.ts';
import { announce } from '../live/announce.ts';
import { actableAccount, maybeAccount } from '../people/account.ts';
import { visiblePerson } from '../people/scope.ts';
import type { SignedIn } from './actor.ts';
import { hangingOn } from './hand-over.ts';
import { findForHelp, helpSheetOf, recentTrouble } from './help-someone.ts';
import { seenGroups } from './reach.ts';
import { slowDown } from './slow-down.ts';
import { makeLetterLinks, makeOneTimeLink, makeWord, showWord } from './tokens.ts';

const letterHours = 24;
const handedOverHours = 1;
/** Time to type what is read out over the telephone. */
const besideOneMinutes = 10;

/** What helps somebody into their account, or keeps them out of it. */
/** Letters that helpers may have sent to one person. */
const lettersToOne = { points: 5, seconds: 24 * 3600 };

export function helpHandlers({ db, pool, settings, now }: Deps): Handlers {
  const byPerson = slowDown(pool, 'help-letter', lettersToOne);

  /** A one-time sign-in for each, by letter to the address on file. */
  async function sendLetters(
    actor: SignedIn,
    to: readonly { personId: number; address: string; name: string; groupId: number | null }[],
  ): Promise<void> {
    const until = momentInWords(new Date(now().getTime() + letterHours * 3_600_000), actor.timeZone);
    const links = await makeLetterLinks(db, to, letterHours);
    await writeLetters(
      db,
      settings.publicUrl,
      'sign in',
      to.map(({ personId, address, name, groupId }) => ({
        personId,
        address,
        groupId,
        values: { name, until, link: `${settings.publicUrl}/enter#${links.get(personId) ?? ''}` },
      })),
    );
  }

  return {
    async hangingOn({ actor, params: { personId } }) {
      await visiblePerson(db, actor, personId);
      const tree = await wholeTree(db);
      const own = await seenGroups(db, actor);
      const hangs = await hangingOn(db, personId, own && ((id) => own.has(id)));
      const named = (groupId: number): { groupId: number; group: string } => ({ groupId, group: tree.node(groupId).name });
      return {
        leads: hangs.leads.map(({ groupId, powers, others, asking }) => ({ ...named(groupId), powers, others, asking })),
        contact: hangs.contact.map(({ groupId }) => named(groupId)),
        codes: hangs.codes.map(({ groupId, codeId, code, isChosen }) => ({
          ...named(groupId),
          codeId,
          code: showJoinCode(code, isChosen),
        })),
      };
    },

    // The letter goes to the address on file, so it takes over nothing: whoever helps people sign in may have it sent.
    async sendSignIn({ actor, params: { personId } }) {
      const { account, groups } = await helped(db, actor, personId);
      const to = await firstOf(
        db
          .select({ email: tables.personalNow.email, name: tables.personalNow.givenName })
          .from(tables.personalNow)
          .where(eq(tables.personalNow.personId, account.personId)),
      );
      if (!to?.email) throw new ProblemError('no-address');
      await byPerson.take(String(personId));
      await sendLetters(actor, [{ personId, address: to.email, name: to.name, groupId: groups[0] ?? null }]);
      await noteAct(db, actor.personId, 'send-sign-in', personId, groups);
    },

    async sendSignIns({ actor, body: { personIds } }) {
      const wanted = new Set(personIds);
      const tops = branchesWith(actor, 'helpSignIn');
      const to = await rows<{ personId: number; address: string; name: string; groupId: number | null; groups: number[] }>(
        db,
        sql`
        select n.person_id as "personId", n.email as address, n.given_name as name, g.ids[1] as "groupId", g.ids as groups
        from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null and s.state = 'active'
        cross join lateral (select array(select m.group_id from membership m where m.person_id = n.person_id and m.until_at is null
          and ${tops === null ? sql`true` : sql`m.group_id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`} order by m.row_id) as ids) g
        where n.person_id = any(${ids(wanted)}) and n.email is not null and ${tops === null ? sql`true` : sql`g.ids <> '{}'`}
          and not exists (select 1 from one_time_link l where l.person_id = n.person_id and l.by_letter and l.used_at is null and l.ends_at > now() + make_interval(hours => ${letterHours - 1}::int))`,
      );
      if (to.length > 0) {
        await sendLetters(actor, to);
        const groups = [...new Set(to.flatMap((each) => each.groups))];
        await noteAct(
          db,
          actor.personId,
          'send-sign-in',
          to.map(({ personId }) => personId),
          groups,
        );
      }
      return { sent: to.length, notSent: wanted.size - to.length };
    },

    async oneTimeSignIn({ actor, params: { personId } }) {
      const account = await actableAccount(db, actor, await wholeTree(db), personId);
      const token = await makeOneTimeLink(db, personId, handedOverHours, { madeBy: actor.personId });
      await noteAct(db, actor.personId, 'one-time-sign-in', personId, groupsOf(account));
      return {
        link: `${settings.publicUrl}/enter#${token}`,
        until: new Date(now().getTime() + handedOverHours * 3_600_000).toISOString(),
      };
    },

    async letInNow({ actor, params: { personId } }) {
      const account = await actableAccount(db, actor, await wholeTree(db), personId);
      const word = makeWord();
      const token = await makeOneTimeLink(db, personId, besideOneMinutes / 60, { madeBy: actor.personId, word });
      await noteAct(db, actor.personId, 'let-in-now', personId, groupsOf(account));
      return {
        link: `${settings.publicUrl}/enter#${token}`,
        word: showWord(word),
        until: new Date(now().getTime() + besideOneMinutes * 60_000).toISOString(),
      };
    },

    async helpRecent({ actor }) {
      return recentTrouble(db, actor);
    },

    async helpFind({ actor, query: { q } }) {
      return findForHelp(db, actor, await wholeTree(db), q, now());
    },

    async helpPerson({ actor, params: { personId }, query: { course } }) {
      return helpSheetOf(db, actor, await wholeTree(db), personId, course);
    },

    async endSessions({ actor, params: { personId } }) {
      const account = await actableAccount(db, actor, await wholeTree(db), personId);
      await db.execute(sql`delete from session where sess ->> 'personId' = ${String(personId)}`);
      await announce(db, { topics: ['session'], groups: [], personId });
      await noteAct(db, actor.personId, 'end-sessions', personId, groupsOf(account));
    },
  };
}

export const groupsOf = (account: AccountFacts): number[] => account.paths.flatMap((path) => path.at(-1) ?? []);

/** @throws ProblemError `not-found` unless the actor helps people sign in where this person is. */
async function helped(db: Queryable, actor: SignedIn, personId: number): Promise<{ account: AccountFacts; groups: number[] }> {
  const tree: Tree = await wholeTree(db);
  const account = await maybeAccount(db, tree, personId);
  if (!account || !mayHelp(actor, account)) throw notFound();
  return { account, groups: groupsOf(account) };
}
