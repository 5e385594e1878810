import type { Routes } from '@gate-roster/contract';
import { dayOfMoment, emailKey, emailProblem, fitsEnding, givenProblems, joinCodeKey } from '@gate-roster/core';
import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Request } from 'express';
import { hashPassword, hasPassword } from '../accounts/password.ts';
import { beginSession } from '../accounts/session.ts';
import { slowDown } from '../accounts/slow-down.ts';
import { hashOf, makeToken } from '../accounts/tokens.ts';
import { outsideRequest, type OutsideRequest, replayOf } from '../changes/outside-request.ts';
import { firstOf, ids, maybeRow, oneRow, onlyOne } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Call, Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { momentInWords, writeConfirming, writeLetters } from '../letters/write-letters.ts';
import { invoiceFile } from '../seats/invoices.ts';
import { coursesInLine } from '../seats/line.ts';
import { closedBecause, maybeCode, type StandingCode, wrongCodeLimiter } from './codes.ts';
import { joinByCode, type Joined } from './join.ts';
import { offerOf } from './offer.ts';
import { openEntryOf } from './hold-place.ts';
import { beginEntryPayment, giveUpEntry, payingEntry } from './paid-entry.ts';

const lettersPerAddress = { points: 5, seconds: 3600 };
const confirmHours = 24;

/** Coming in by a join code, and paying for it where it has a price. */
export function joinHandlers(deps: Deps): Handlers {
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
  const today = async (): Promise<string> => {
    const { time_zone } = await onlyOne(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
    return dayOfMoment(now(), time_zone);
  };
  /** The address that a confirmation link shows to be somebody's own. */
  async function confirmedBy(token: string | undefined, code: StandingCode): Promise<string | null> {
    if (token === undefined) return null;
    const link = await firstOf(
      db
        .select({ email: tables.confirmLink.email })
        .from(tables.confirmLink)
        .where(
          and(
            eq(tables.confirmLink.hash, hashOf(token)),
            eq(tables.confirmLink.codeId, code.id),
            isNull(tables.confirmLink.usedAt),
            gt(tables.confirmLink.endsAt, sql`now()`),
          ),
        ),
    );
    if (!link) throw new ProblemError('link-over');
    return link.email;
  }
  async function sendLink(address: string, code: StandingCode, link: string): Promise<void> {
    const { time_zone } = await onlyOne(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
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
    if (
      confirmed !== null &&
      (await firstOf(
        db.select({ rowId: tables.personalNow.rowId }).from(tables.personalNow).where(eq(tables.personalNow.confirmedEmail, confirmed)),
      ))
    )
      throw new ProblemError('address-taken');
    const passwordHash = await hashPassword(body.password);
    const { outcome, isReplay } = await joinByCode(
      deps,
      body.code,
      { given, email, isConfirmed: confirmed !== null, passwordHash },
      asked,
      body.total ?? null,
    );
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

  /** The page on which a way in is paid; its browser finds it again. Null: nothing is to be paid, or the service does not answer now. */
  async function pageOf(came: Joined, request: Request, requestId: string, isSomebodyElse: boolean): Promise<string | null> {
    if (came.outcome !== 'paying' || came.entryId === null || isSomebodyElse) return null;
    request.session.paidEntry = came.entryId;
    return beginEntryPayment(deps, came.entryId, requestId).catch((error: unknown) => {
      deps.log.warn({ err: error }, 'the payment of a way in could not begin');
      return null;
    });
  }
  /** What whoever joined in this browser, or is signed in, has still to pay; or has paid in this browser. */
  async function entryOf(request: Request): Promise<string> {
    const own =
      request.session.paidEntry ?? (request.session.personId === undefined ? null : await openEntryOf(db, request.session.personId));
    return found(own);
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
        page: await pageOf(came, request, requestId, isReplay && !(await after(hasPassword(db, came.personId, password), false))),
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
        const own = await firstOf(
          db
            .select({ email: tables.personalNow.confirmedEmail })
            .from(tables.personalNow)
            .where(eq(tables.personalNow.personId, actor.personId)),
        );
        if (!own?.email || !fitsEnding(own.email, code.email_ending)) throw new ProblemError('needs-confirming');
      }
      const { requestId, ...sent } = body;
      const { outcome } = await joinByCode(
        deps,
        body.code,
        { personId: actor.personId, answers },
        outsideRequest(deps.requestKey, requestId, { ...sent, personId: actor.personId }),
        sent.total ?? null,
      );
      return {
        outcome: outcome.outcome,
        inLine: await coursesInLine(db, actor.personId),
        page: await pageOf(outcome, request, requestId, false),
      };
    },

    async payingEntry({ request }) {
      const id = await entryOf(request).catch(() => null);
      if (id === null) return { entry: null };
      const { personId, isNew, ...entry } = found(await payingEntry(db, id));
      // Somebody who registered and paid in this browser is in, and signed in.
      const isIn = entry.state === 'paid' && isNew && request.session.personId === undefined;
      const me = isIn ? await beginSession(deps, request, personId).catch(() => null) : null;
      if (me) request.session.paidEntry = id;
      return { entry: { ...entry, me } };
    },

    async payEntry({ request, body }) {
      return { page: await beginEntryPayment(deps, await entryOf(request), body.requestId) };
    },

    async giveUpEntry({ request }) {
      await giveUpEntry(deps, await entryOf(request));
      delete request.session.paidEntry;
    },

    async receipt({ actor, params: { number }, query: { paper } }) {
      const entry = found(
        await maybeRow<{ id: string }>(
          db,
          sql`select e.id from paid_entry e join invoice i on i.entry_id = e.id where i.number = ${number} and e.person_id = ${actor.personId}`,
        ),
      );
      const content = found(await invoiceFile(db, { entryId: entry.id }, number, paper));
      return { fileName: `${number}.pdf`, mimeType: 'application/pdf', isPicture: false, content };
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
  if (link !== undefined)
    await db
      .update(tables.confirmLink)
      .set({ usedAt: sql`now()` })
      .where(eq(tables.confirmLink.hash, hashOf(link)));
  if (email === null || isConfirmed) return;
  await writeConfirming(db, settings.publicUrl, 'confirm address', [
    { personId, address: email, groupId: code.group_ids[0] ?? null, values: { name } },
  ]);
}

/** Is whoever is signed in there already, asking, or about to pay? */
async function standingOf(
  { db }: Deps,
  code: StandingCode,
  personId: number | undefined,
): Promise<'in' | 'asking' | 'paying' | 'not in' | null> {
  if (personId === undefined) return null;
  const table = sql.identifier(code.powers === null ? 'membership' : 'leadership');
  const { held, asked } = await oneRow<{ held: number; asked: number }>(
    db,
    sql`
    select (select count(*)::int from ${table} where person_id = ${personId} and until_at is null and group_id = any(${ids(code.group_ids)})) as held,
      (select count(*)::int from join_request where person_id = ${personId} and until_at is null and state = 'asking' and group_id = any(${ids(code.group_ids)})) as asked`,
  );
  if (held >= code.group_ids.length) return 'in';
  if (held + asked >= code.group_ids.length) return 'asking';
  return (await openEntryOf(db, personId, code.id)) === null ? 'not in' : 'paying';
}
