import type { KeptMapping, SentInvitation } from '@gate-roster/contract';
import { branchesWith, impersonalFields, may, nameKey, type Power, powers, speakingBranch, tidyName, type Tree } from '@gate-roster/core';
import { and, desc, eq, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { iso, oneRow, onlyOne, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound } from '../http/problem.ts';
import { groupsOf } from '../people/scope.ts';
import { makeFile } from '../print/make-file.ts';
import { cardsAhead, cardsToPrint, makeCards } from './cards.ts';
import { countCourseRequests } from '../access/course-requests.ts';
import { closedBecause, codesInScope, maybeCodeById, mayMakeCode, type StandingCode } from './codes.ts';
import { fileOfUses, usesOfCode } from './code-uses.ts';
import { paidEntries } from './paid-entry.ts';
import { decidersOf } from './deciders.ts';
import { offerOf } from './offer.ts';
import { knownForRoster, presetsToGive } from './roster-facts.ts';
import { keepPart } from './roster-files.ts';
import { countWaiting, requestsInScope } from './requests.ts';

const usesAtOnce = 100;

/** Join codes, people asking, invitations. */
export function entryHandlers(deps: Deps): Handlers {
  const { db, settings, now } = deps;
  /** @throws ProblemError `not-found` unless the actor may do it in every group that the code opens. */
  async function seenCode(actor: SignedIn, codeId: number, power: Power | 'see'): Promise<{ code: StandingCode; tree: Tree }> {
    const tree = await wholeTree(db);
    const code = found(await maybeCodeById(db, codeId));
    if (!code.group_ids.every((id) => may(actor, power, { path: tree.path(id) }))) throw notFound();
    return { code, tree };
  }
  return {
    async rosterKnown({ actor, params: { groupId }, body }) {
      const path = await pathTo(db, actor, groupId, 'managePeople');
      const tree = await wholeTree(db);
      const issuer = speakingBranch(actor, 'managePeople', { path: path.map(({ id }) => id) }) ?? path[0]?.id ?? groupId;
      return { ...(await knownForRoster(db, actor, tree, issuer, body, groupId)), presets: presetsToGive(actor, tree, groupId) };
    },

    async putRosterPart({ actor, params: { fileId, part }, body }) {
      if (!mayManageAnywhere(actor)) throw notFound();
      await keepPart(db, actor.personId, fileId, part, body.rows);
    },

    async keptMappings({ actor }) {
      return {
        mappings: await rows<KeptMapping>(
          db,
          sql`select id, name, headers_key as "headersKey", columns, date_order as "dateOrder" from kept_mapping where owner_id = ${actor.personId} order by used_at desc`,
        ),
        mends: await db
          .select({ field: tables.keptMend.field, was: tables.keptMend.wasKey, becomes: tables.keptMend.becomes })
          .from(tables.keptMend)
          .where(eq(tables.keptMend.ownerId, actor.personId))
          .orderBy(desc(tables.keptMend.usedAt))
          .limit(2000),
      };
    },

    async keepMapping({ actor, body }) {
      await db.execute(sql`
        insert into kept_mapping (owner_id, name, name_key, headers_key, columns, date_order)
        values (${actor.personId}, ${tidyName(body.name)}, ${nameKey(body.name)}, ${body.headersKey}, ${JSON.stringify(body.columns)}::jsonb, ${body.dateOrder})
        on conflict (owner_id, name_key) do update set name = excluded.name, headers_key = excluded.headers_key, columns = excluded.columns, date_order = excluded.date_order, used_at = now()`);
    },

    async dropMapping({ actor, params: { mappingId } }) {
      const dropped = await db
        .delete(tables.keptMapping)
        .where(and(eq(tables.keptMapping.id, mappingId), eq(tables.keptMapping.ownerId, actor.personId)))
        .returning({ id: tables.keptMapping.id });
      found(dropped[0]);
    },

    async keepMends({ actor, body }) {
      const mends = body.mends.filter(({ field }) => impersonalFields.some((each) => each === field));
      await db.execute(sql`
        insert into kept_mend (owner_id, field, was_key, becomes)
        select distinct on (field, lower(was)) ${actor.personId}::bigint, field, lower(was), becomes from jsonb_to_recordset(${JSON.stringify(mends)}::jsonb) as r(field text, was text, becomes text)
        on conflict (owner_id, field, was_key) do update set becomes = excluded.becomes, used_at = now()`);
    },

    async cardsAhead({ actor, body }) {
      const { holders, notYours, replaced } = await cardsAhead(db, actor, await wholeTree(db), body.personIds);
      return { cards: holders.length, notYours, replaced };
    },

    async makeCards({ actor, body }) {
      return makeCards(db, actor, await wholeTree(db), body.personIds, { publicUrl: settings.publicUrl, now: now() });
    },

    async cardFile({ actor, body: { cards: printed, paper, onPage } }) {
      const cards = await cardsToPrint(db, actor, printed, settings.publicUrl);
      const content = await makeFile('cards', cards, {
        paper,
        onPage,
        organisation: actor.organisation,
        address: new URL(settings.publicUrl).host,
        timeZone: actor.timeZone,
      });
      return { fileName: 'sign-in-cards.pdf', mimeType: 'application/pdf', isPicture: false, content };
    },

    async codes({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId);
      const tree = await wholeTree(db);
      const mayMake = (held: readonly (typeof powers)[number][] | null): boolean =>
        mayMakeCode(actor, tree, { groupIds: [groupId], powers: held });
      return {
        codes: await codesInScope(db, actor, tree, { groupId, withSubgroups: query.subgroups === 'yes', now: now() }),
        may: { make: mayMake(null), makeForLeaders: mayMake([]) },
        currency:
          settings.paymentUrl === null
            ? null
            : (await onlyOne(db.select({ currency: tables.billing.currency }).from(tables.billing))).currency,
      };
    },

    async codeUses({ actor, params: { codeId }, query: { after } }) {
      await seenCode(actor, codeId, 'see');
      return usesOfCode(db, actor, codeId, after);
    },

    async codeUsesFile({ actor, params: { codeId }, response }) {
      await seenCode(actor, codeId, 'export');
      response.setHeader('Content-Disposition', `attachment; filename="code-${codeId}.csv"`);
      return fileOfUses(db, actor, codeId);
    },

    async door({ actor, params: { codeId } }) {
      const { code, tree } = await seenCode(actor, codeId, 'see');
      const offer = await offerOf(db, tree, code, actor.today);
      return {
        code: offer.code,
        organisation: offer.organisation,
        groups: offer.groups,
        courses: offer.courses,
        until: offer.until,
        price: offer.price,
        link: `${settings.publicUrl}/join#${offer.code}`,
        uses: code.uses,
        useLimit: code.use_limit,
        state: closedBecause(code, now()) ?? 'open',
      };
    },

    async requests({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'decideEntry');
      return requestsInScope(db, actor, await wholeTree(db), { groupId, withSubgroups: query.subgroups === 'yes' });
    },

    async waiting({ actor }) {
      return { people: (await countWaiting(db, actor)) + (await countCourseRequests(db, actor, null)) };
    },

    async entryFigures({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId);
      const withSubgroups = query.subgroups === 'yes';
      const tree = await wholeTree(db);
      const codes = await codesInScope(db, actor, tree, { groupId, withSubgroups, now: now() });
      const mayDecide = may(actor, 'decideEntry', { path: tree.path(groupId) });
      const counts = await oneRow<{ asking: number; out: number }>(
        db,
        sql`
        select (select count(distinct person_id)::int from join_request where until_at is null and state = 'asking' and group_id in (${groupsOf(groupId, withSubgroups)})) as asking,
          (select count(*)::int from invitation where until_at is null and ends_at > now() and group_id in (${groupsOf(groupId, withSubgroups)})) as out`,
      );
      return {
        asking: (mayDecide ? counts.asking : 0) + (await countCourseRequests(db, actor, { groupId, withSubgroups })),
        codesOpen: codes.filter(({ state }) => state === 'open').length,
        invitationsOut: counts.out,
      };
    },

    async invitations({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'managePeople');
      const inScope = sql`i.group_id in (${groupsOf(groupId, query.subgroups === 'yes')})`;
      const list = await rows<Omit<SentInvitation, 'group'> & { group_id: number; group: string; state: SentInvitation['state'] }>(
        db,
        sql`
        select i.row_id as id, i.email, trim(i.given_name || ' ' || i.family_name) as name, g.id as group_id, g.name as "group", i.powers is not null as leads, i.ends_at as until, l.trouble,
          case when i.accepted_at is not null then 'joined' when l.state = 'bounced' then 'bounced' when i.ends_at < now() then 'over' when i.opened_at is not null then 'opened'
            when l.state = 'waiting' then 'on its way' else 'sent' end as state,
          coalesce(i.accepted_at, i.opened_at, l.sent_at, i.from_at) as at
        from invitation i join group_now g on g.id = i.group_id
        left join lateral (select state, sent_at, trouble from letter where invitation_id = i.row_id order by id desc limit 1) l on true
        where ${inScope} and (i.until_at is null or i.accepted_at is not null) and ${query.after === undefined ? sql`true` : sql`i.row_id < ${query.after}`}
        order by i.row_id desc limit ${usesAtOnce + 1}`,
      );
      const page = list.slice(0, usesAtOnce);
      const { out } = await oneRow<{ out: number }>(
        db,
        sql`select count(*)::int as out from invitation i where ${inScope} and i.until_at is null and i.ends_at > now()`,
      );
      return {
        invitations: page.map(({ group_id, group, at, until, ...rest }) => ({
          ...rest,
          group: { id: group_id, name: group },
          at: iso(at),
          until: iso(until),
        })),
        next: list.length > usesAtOnce ? (page.at(-1)?.id ?? null) : null,
        out,
      };
    },

    async myRequests({ actor }) {
      const asked = await rows<{
        group: string;
        askedAt: string;
        state: 'asking' | 'turned away';
        word: string | null;
        deciders: string[];
      }>(
        db,
        sql`
        select g.name as "group", r.asked_at as "askedAt", r.state, r.word, ${decidersOf(sql`r.group_id`, 'decideEntry')} as deciders from join_request r join group_now g on g.id = r.group_id
        where r.person_id = ${actor.personId} and r.until_at is null and (r.state = 'asking' or (r.state = 'turned away' and r.from_at > now() - interval '30 days')) order by r.row_id`,
      );
      return { paid: await paidEntries(db, actor.personId), requests: asked.map((each) => ({ ...each, askedAt: iso(each.askedAt) })) };
    },
  };
}

/** Does the actor manage people anywhere at all? */
const mayManageAnywhere = (actor: SignedIn): boolean => (branchesWith(actor, 'managePeople')?.length ?? 1) > 0;
