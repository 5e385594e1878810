import type { KeptMapping, KeptMend, Routes, SentInvitation } from '@gate-roster/contract';
import {
  branchesWith,
  dayOfMoment,
  emailKey,
  emailProblem,
  fitsEnding,
  givenProblems,
  impersonalFields,
  joinCodeKey,
  may,
  nameKey,
  type Power,
  powers,
  speakingBranch,
  tidyName,
  type Tree,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { hashPassword, hasPassword } from '../accounts/password.ts';
import { outsideRequest, type OutsideRequest, replayOf } from '../changes/outside-request.ts';
import { beginSession } from '../accounts/session.ts';
import { slowDown } from '../accounts/slow-down.ts';
import { hashOf, makeToken } from '../accounts/tokens.ts';
import { ids, iso, maybeRow, oneRow, rows } from '../database/connect.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Call, Handlers } from '../http/handle.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { momentInWords, writeConfirming, writeLetters } from '../letters/write-letters.ts';
import { groupsOf } from '../people/scope.ts';
import { cardFile } from './card-file.ts';
import { cardsAhead, cardsToPrint, makeCards } from './cards.ts';
import { countCourseRequests } from '../access/course-requests.ts';
import { closedBecause, codesInScope, maybeCode, maybeCodeById, mayMakeCode, type StandingCode, wrongCodeLimiter } from './codes.ts';
import { fileOfUses, usesOfCode } from './code-uses.ts';
import { decidersOf } from './deciders.ts';
import { joinByCode, type Joined } from './join.ts';
import { offerOf } from './offer.ts';
import { coursesInLine } from '../seats/line.ts';
import { knownForRoster, presetsToGive } from './roster-facts.ts';
import { keepPart } from './roster-files.ts';
import { countWaiting, requestsInScope } from './requests.ts';

const lettersPerAddress = { points: 5, seconds: 3600 };
const usesAtOnce = 100;
const confirmHours = 24;

/** Join codes, people asking, invitations. */
export function entryHandlers(deps: Deps): Handlers {
  const { db, settings, now } = deps;
  const guesses = wrongCodeLimiter(deps.pool);
  const confirmations = slowDown(deps.pool, 'join-letter', lettersPerAddress);

  /** The open code that was typed. Only wrong ones count; a right one is never refused for its address. */
  async function openCode(typed: string, address: string): Promise<StandingCode> {
    const code = await maybeCode(db, joinCodeKey(typed));
    if (code && closedBecause(code, now()) === null) return code;
    await guesses.take(address);
    throw new ProblemError('code-over');
  }
  /** @throws ProblemError `not-found` unless the actor may do it in every group that the code opens. */
  async function seenCode(actor: SignedIn, codeId: number, power: Power | 'see'): Promise<{ code: StandingCode; tree: Tree }> {
    const tree = await wholeTree(db);
    const code = found(await maybeCodeById(db, codeId));
    if (!code.group_ids.every((id) => may(actor, power, { path: tree.path(id) }))) throw notFound();
    return { code, tree };
  }
  const today = async (): Promise<string> => {
    const { time_zone } = await oneRow<{ time_zone: string }>(db, sql`select time_zone from organisation`);
    return dayOfMoment(now(), time_zone);
  };
  /** The address that a confirmation link shows to be somebody's own. */
  async function confirmedBy(token: string | undefined, code: StandingCode): Promise<string | null> {
    if (token === undefined) return null;
    const link = await maybeRow<{ email: string }>(
      db,
      sql`select email from confirm_link where hash = ${hashOf(token)} and code_id = ${code.id} and used_at is null and ends_at > now()`,
    );
    if (!link) throw new ProblemError('link-over');
    return link.email;
  }
  async function sendLink(address: string, code: StandingCode, link: string): Promise<void> {
    const { time_zone } = await oneRow<{ time_zone: string }>(db, sql`select time_zone from organisation`);
    const until = momentInWords(new Date(now().getTime() + confirmHours * 3_600_000), time_zone);
    await writeLetters(db, settings.publicUrl, 'confirm', [
      { personId: null, address, groupId: code.group_ids[0] ?? null, values: { name: '', until, link } },
    ]);
  }

  /** Registers somebody and lets them in, or has them ask. */
  async function joinFirst(
    body: Call<Routes['join']>['body'],
    asked: OutsideRequest,
    address: string,
  ): Promise<{ outcome: Joined; isReplay: boolean }> {
    const code = await openCode(body.code, address);
    const confirmed = await confirmedBy(body.confirmed, code);
    if (code.email_ending !== null && confirmed === null) throw new ProblemError('needs-confirming');
    const given = { ...body.given, email: confirmed ?? body.given.email };
    const problems = givenProblems(code.asks, given, false);
    if (problems.length > 0)
      throw new ProblemError('given-wrong', { where: problems.map(({ field, code: what }) => ({ place: field, what })) });
    const email = code.asks.email === 'no' && confirmed === null ? null : given.email.trim() || null;
    // Somebody who has shown the address to be theirs has an account with it already: they sign in to that one and join with it.
    if (confirmed !== null && (await maybeRow(db, sql`select 1 from personal_now where confirmed_email = ${confirmed}`)))
      throw new ProblemError('address-taken');
    const passwordHash = await hashPassword(body.password);
    const { outcome, isReplay } = await joinByCode(deps, body.code, { given, email, isConfirmed: confirmed !== null, passwordHash }, asked);
    if (!isReplay)
      await afterJoining(deps, code, outcome.personId, {
        email,
        isConfirmed: confirmed !== null,
        link: body.confirmed,
        name: given.givenName,
      }).catch((error: unknown) => {
        deps.log.warn({ err: error }, 'after joining');
      });
    return { outcome, isReplay };
  }

  return {
    async joinLook({ body, request }) {
      const code = await openCode(body.code, request.ip ?? '');
      const tree = await wholeTree(db);
      const confirmedEmail = await confirmedBy(body.confirmed, code);
      return {
        ...(await offerOf(db, tree, code, await today())),
        mine: await standingOf(deps, code, request.session.personId),
        confirmedEmail,
      };
    },

    async joinConfirm({ body, request }) {
      const code = await openCode(body.code, request.ip ?? '');
      const email = body.email.trim();
      if (emailProblem(email) !== null || (code.email_ending !== null && !fitsEnding(email, code.email_ending)))
        throw new ProblemError('given-wrong', { where: [{ place: 'email', what: 'not fitting' }] });
      await confirmations.take(emailKey(email));
      const { token, hash } = makeToken();
      await db.execute(
        sql`insert into confirm_link (hash, code_id, email, ends_at) values (${hash}, ${code.id}, ${email}, now() + make_interval(hours => ${confirmHours}::int))`,
      );
      await sendLink(email, code, `${settings.publicUrl}/join#${code.code}/${token}`);
    },

    async join({ body, request }) {
      const { password, requestId, ...sent } = body;
      const asked = outsideRequest(deps.requestKey, requestId, sent);
      const earlier = await replayOf<Joined>(db, asked);
      const { outcome: came, isReplay } = earlier ? { outcome: earlier, isReplay: true } : await joinFirst(body, asked, request.ip ?? '');
      // They are in from here on: whatever fails now, they are told so, with the name to sign in by.
      const after = <T>(work: Promise<T>, otherwise: T): Promise<T> =>
        work.catch((error: unknown) => {
          deps.log.warn({ err: error }, 'after joining');
          return otherwise;
        });
      // Sent again it signs in only with the password that was set the first time.
      const isTheirs = came.outcome === 'in' && (!isReplay || (await after(hasPassword(db, came.personId, password), false)));
      return {
        outcome: came.outcome,
        signInName: came.signInName,
        inLine: await after(coursesInLine(db, came.personId), []),
        me: isTheirs ? await after(beginSession(deps, request, came.personId), null) : null,
      };
    },

    async joinAsMyself({ actor, body, request }) {
      const code = await openCode(body.code, request.ip ?? '');
      const answers = body.answers;
      const problems = givenProblems(code.asks, { givenName: '', familyName: '', email: '', idNumber: '', answers }, true);
      if (problems.length > 0)
        throw new ProblemError('given-wrong', { where: problems.map(({ field, code: what }) => ({ place: field, what })) });
      if (code.email_ending !== null) {
        const own = await maybeRow<{ email: string }>(
          db,
          sql`select confirmed_email as email from personal_now where person_id = ${actor.personId} and confirmed_email is not null`,
        );
        if (!own || !fitsEnding(own.email, code.email_ending)) throw new ProblemError('needs-confirming');
      }
      const { requestId, ...sent } = body;
      const { outcome } = await joinByCode(
        deps,
        body.code,
        { personId: actor.personId, answers },
        outsideRequest(deps.requestKey, requestId, { ...sent, personId: actor.personId }),
      );
      return { outcome: outcome.outcome, inLine: await coursesInLine(db, actor.personId) };
    },

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
        mends: await rows<KeptMend>(
          db,
          sql`select field, was_key as was, becomes from kept_mend where owner_id = ${actor.personId} order by used_at desc limit 2000`,
        ),
      };
    },

    async keepMapping({ actor, body }) {
      await db.execute(sql`
        insert into kept_mapping (owner_id, name, name_key, headers_key, columns, date_order)
        values (${actor.personId}, ${tidyName(body.name)}, ${nameKey(body.name)}, ${body.headersKey}, ${JSON.stringify(body.columns)}::jsonb, ${body.dateOrder})
        on conflict (owner_id, name_key) do update set name = excluded.name, headers_key = excluded.headers_key, columns = excluded.columns, date_order = excluded.date_order, used_at = now()`);
    },

    async dropMapping({ actor, params: { mappingId } }) {
      const dropped = await rows(db, sql`delete from kept_mapping where id = ${mappingId} and owner_id = ${actor.personId} returning 1`);
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
      const content = await cardFile(cards, {
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
      return { requests: asked.map((each) => ({ ...each, askedAt: iso(each.askedAt) })) };
    },
  };
}

/** What follows once somebody new is in: the link that confirmed their address is used up, or the address is asked about. */
async function afterJoining(
  { db, settings }: Deps,
  code: StandingCode,
  personId: number,
  { email, isConfirmed, link, name }: { email: string | null; isConfirmed: boolean; link: string | undefined; name: string },
): Promise<void> {
  if (link !== undefined) await db.execute(sql`update confirm_link set used_at = now() where hash = ${hashOf(link)}`);
  if (email === null || isConfirmed) return;
  await writeConfirming(db, settings.publicUrl, 'confirm address', [
    { personId, address: email, groupId: code.group_ids[0] ?? null, values: { name } },
  ]);
}

/** Does the actor manage people anywhere at all? */
const mayManageAnywhere = (actor: SignedIn): boolean => (branchesWith(actor, 'managePeople')?.length ?? 1) > 0;

/** Is whoever is signed in there already, or asking? */
async function standingOf({ db }: Deps, code: StandingCode, personId: number | undefined): Promise<'in' | 'asking' | 'not in' | null> {
  if (personId === undefined) return null;
  const table = sql.identifier(code.powers === null ? 'membership' : 'leadership');
  const { held, asked } = await oneRow<{ held: number; asked: number }>(
    db,
    sql`
    select (select count(*)::int from ${table} where person_id = ${personId} and until_at is null and group_id = any(${ids(code.group_ids)})) as held,
      (select count(*)::int from join_request where person_id = ${personId} and until_at is null and state = 'asking' and group_id = any(${ids(code.group_ids)})) as asked`,
  );
  if (held >= code.group_ids.length) return 'in';
  return held + asked >= code.group_ids.length ? 'asking' : 'not in';
}
