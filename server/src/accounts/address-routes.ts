import { emailProblem } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { applyChange, planChange } from '../changes/apply.ts';
import { lookOf } from '../changes/look.ts';
import { recordChange } from '../changes/record.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { summaryOf } from '../changes/plan.ts';
import { firstOf, isAmong, maybeRow, oneRow, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { isYoung, momentInWords, writeConfirming, writeLetters } from '../letters/write-letters.ts';
import { announce } from '../live/announce.ts';
import { mergeAccounts } from '../people/merge-people.ts';
import { joinedDays } from './joined-days.ts';
import { confirmAddress, dropAddress, setPassword } from './one-time.ts';
import { hashPassword, isPassword } from './password.ts';
import { beginSession } from './session.ts';
import { signInLimiter, slowDown } from './slow-down.ts';
import { hashOf, makeOneTimeLink } from './tokens.ts';

const forgotten = { points: 20, seconds: 3600 };
const lettersToOne = { points: 3, seconds: 3600 };
const resetHours = 2;

interface AddressLink {
  person_id: number;
  address: string;
  sign_in_name: string;
  email: string | null;
  is_young: boolean;
  is_taken: boolean;
}

/** What an address identifies, and how its owner says so (`product.md`, An address). */
export function addressHandlers(deps: Deps): Handlers {
  const { db, settings, now } = deps;
  const byNetwork = slowDown(deps.pool, 'forgot', forgotten);
  const byAccount = slowDown(deps.pool, 'forgot-letter', lettersToOne);
  const limiter = signInLimiter(deps.pool);

  /** A confirmed address gets a reset; one that only unconfirmed accounts carry is asked whose they are; any other gets nothing. */
  async function sendReset(typed: string): Promise<void> {
    const account = await maybeRow<{ id: number; address: string; name: string; time_zone: string }>(
      db,
      sql`
      select n.person_id as id, n.confirmed_email as address, n.given_name as name, o.time_zone from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null and s.state = 'active'
      cross join organisation o where n.confirmed_email is not null and (n.confirmed_email = ${typed} or n.sign_in_name = ${typed}) limit 1`,
    );
    if (account) {
      await byAccount.take(String(account.id));
      const token = await makeOneTimeLink(db, account.id, resetHours, { address: account.address });
      const until = momentInWords(new Date(now().getTime() + resetHours * 3_600_000), account.time_zone);
      await writeLetters(db, settings.publicUrl, 'reset', [
        {
          personId: account.id,
          address: account.address,
          groupId: null,
          values: { name: account.name, until, link: `${settings.publicUrl}/enter#${token}` },
        },
      ]);
      return;
    }
    const carriers = await rows<{ id: number; address: string; name: string; group_id: number | null }>(
      db,
      sql`
      select n.person_id as id, n.email as address, n.given_name as name, (select min(group_id) from membership m where m.person_id = n.person_id and m.until_at is null) as group_id
      from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null and s.state = 'active'
      where n.email = ${typed} and n.confirmed_email is null order by n.person_id desc limit 3`,
    );
    const letters = carriers.map(({ id, address, name, group_id }) => ({ personId: id, address, groupId: group_id, values: { name } }));
    await writeConfirming(db, settings.publicUrl, 'confirm address', letters);
  }

  async function linkOf(at: Queryable, token: string): Promise<AddressLink> {
    const link = await maybeRow<AddressLink>(
      at,
      sql`
      select l.person_id, l.address, coalesce(n.sign_in_name::text, '') as sign_in_name, n.email, ${isYoung(sql`l.person_id`)} as is_young,
        exists (select 1 from personal_now o where o.confirmed_email = l.address and o.person_id <> l.person_id) as is_taken
      from address_link l join personal_now n on n.person_id = l.person_id join person_state s on s.person_id = l.person_id and s.until_at is null and s.state in ('active', 'asking')
      where l.hash = ${hashOf(token)} and l.used_at is null and l.ends_at > ${now().toISOString()}`,
    );
    if (!link) throw new ProblemError('link-over');
    return link;
  }

  return {
    async forgot({ body, request }) {
      await byNetwork.take(request.ip ?? '');
      // The answer does not wait, so that its time tells nothing either.
      void sendReset(body.signInName).catch((error: unknown) => {
        if (!(error instanceof ProblemError)) deps.log.warn({ err: error }, 'a reset could not be sent');
      });
      await Promise.resolve();
    },

    async addressLink({ body, request }) {
      const link = await linkOf(db, body.token);
      const about = await oneRow<{ organisation: string; group: string | null; made_on: string }>(
        db,
        sql`
        select o.name as organisation, (p.created_at at time zone o.time_zone)::date as made_on,
          (select g.name from membership m join group_now g on g.id = m.group_id where m.person_id = p.id and m.until_at is null order by m.row_id limit 1) as "group"
        from person p cross join organisation o where p.id = ${link.person_id}`,
      );
      const own = request.session.personId;
      const mine =
        own === undefined || own === link.person_id
          ? null
          : await maybeRow<{ name: string }>(
              db,
              sql`select coalesce(sign_in_name::text, given_name) as name from personal_now where person_id = ${own}`,
            );
      return {
        organisation: about.organisation,
        address: link.address,
        signInName: link.sign_in_name,
        group: about.group,
        madeOn: about.made_on,
        needsPassword: !link.is_young,
        isTaken: link.is_taken,
        mine: mine?.name ?? null,
      };
    },

    async confirmAddress({ body, request }) {
      const { is_young } = await linkOf(db, body.token);
      if (!is_young && body.password === null)
        throw new ProblemError('bad-request', { where: [{ place: 'body.password', what: 'A new password is needed' }] });
      const passwordHash = is_young || body.password === null ? null : await hashPassword(body.password);
      const { personId, earlier } = await db.transaction(async (tx) => {
        const link = await linkOf(tx, body.token);
        const used = await tx
          .update(tables.addressLink)
          .set({ usedAt: sql`now()` })
          .where(and(eq(tables.addressLink.hash, hashOf(body.token)), isNull(tables.addressLink.usedAt)))
          .returning({ hash: tables.addressLink.hash });
        if (used.length === 0) throw new ProblemError('link-over');
        if (link.is_taken) throw new ProblemError('address-taken');
        // Everything by which anybody else may be in it ends before the address counts.
        await tx.delete(tables.credential).where(eq(tables.credential.personId, link.person_id));
        await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(link.person_id)}`);
        await dropAddress(tx, [link.person_id]);
        if (passwordHash !== null) await setPassword(tx, link.person_id, passwordHash);
        const before = await onlyOne(
          tx
            .select({ confirmed_email: tables.personalNow.confirmedEmail })
            .from(tables.personalNow)
            .where(eq(tables.personalNow.personId, link.person_id)),
        );
        if (link.email?.toLowerCase() !== link.address.toLowerCase())
          await tx
            .update(tables.personal)
            .set({ confirmedEmail: null, email: link.address })
            .where(and(eq(tables.personal.personId, link.person_id), isNull(tables.personal.untilAt)));
        await confirmAddress(tx, link.person_id);
        await tx
          .update(tables.person)
          .set({ signedInAt: sql`now()`, activeAt: sql`now()` })
          .where(eq(tables.person.id, link.person_id));
        return { personId: link.person_id, earlier: before.confirmed_email };
      });
      if (earlier !== null)
        await writeLetters(db, settings.publicUrl, 'address changed', [
          { personId: null, address: earlier, groupId: await groupOf(db, personId), values: {} },
        ]);
      await announce(db, { topics: ['session'], groups: [], personId });
      return beginSession(deps, request, personId);
    },

    async refuseAddress({ body }) {
      await db.transaction(async (tx) => {
        const link = await linkOf(tx, body.token);
        await tx
          .update(tables.addressLink)
          .set({ usedAt: sql`now()` })
          .where(eq(tables.addressLink.hash, hashOf(body.token)));
        // An address asked for and not confirmed yet is only dropped; the account keeps the one it has.
        await tx
          .update(tables.personal)
          .set({ email: null, confirmedEmail: null, addressFailed: true })
          .where(
            and(
              eq(tables.personal.personId, link.person_id),
              isNull(tables.personal.untilAt),
              eq(tables.personal.email, link.address),
              isNull(tables.personal.confirmedEmail),
            ),
          );
        await dropAddress(tx, [link.person_id]);
      });
    },

    async joinAddress({ actor, body }) {
      const changeId = await withRosterLock(db, 'alone', async (tx) => {
        const earlier = await firstOf(
          tx
            .select({ id: tables.changeLog.id, actor_id: tables.changeLog.actorId })
            .from(tables.changeLog)
            .where(eq(tables.changeLog.requestId, body.requestId)),
        );
        if (earlier?.actor_id === actor.personId) return earlier.id;
        if (earlier) throw new ProblemError('request-id-reused');
        const link = await linkOf(tx, body.token);
        if (link.person_id === actor.personId || actor.onlyIn !== null) throw new ProblemError('link-over');
        const other = found(
          await firstOf(tx.select({ role: tables.person.role }).from(tables.person).where(eq(tables.person.id, link.person_id))),
        );
        if (other.role !== 'none') throw new ProblemError('link-over');
        const groups = (
          await tx
            .selectDistinct({ id: tables.membership.groupId })
            .from(tables.membership)
            .where(and(isNull(tables.membership.untilAt), isAmong(tables.membership.personId, [actor.personId, link.person_id])))
        ).map(({ id }) => id);
        await tx
          .update(tables.addressLink)
          .set({ usedAt: sql`now()` })
          .where(eq(tables.addressLink.hash, hashOf(body.token)));
        return recordChange(
          tx,
          actor,
          {
            requestId: body.requestId,
            mode: 'alone',
            kind: 'join-accounts',
            undoOf: [],
            summary: summaryOf({ groups: groups.slice(0, 3), people: [actor.personId], counts: { people: 1 } }),
            groups,
          },
          async (_tx, writer) => {
            const excepted = await mergeAccounts(tx, writer, actor.personId, link.person_id, { withPowers: false });
            await tx.execute(sql`
              update personal n set email = ${link.address}, confirmed_email = ${link.address} where n.person_id = ${actor.personId} and n.until_at is null and n.email is null
                and not exists (select 1 from personal_now o where o.confirmed_email = ${link.address})`);
            return { people: [actor.personId, link.person_id], sessions: [actor.personId, link.person_id], excepted };
          },
        );
      });
      return { changeId };
    },

    async myAccount({ actor }) {
      const own = await oneRow<{ signInName: string | null; address: string | null; isConfirmed: boolean; pending: string | null }>(
        db,
        sql`
        select sign_in_name as "signInName", email as address, confirmed_email is not null as "isConfirmed",
          (select l.address from address_link l where l.person_id = n.person_id and l.used_at is null and l.ends_at > now() and (l.address <> coalesce(n.email, '') or n.confirmed_email is null) order by l.made_at desc limit 1) as pending
        from personal_now n where n.person_id = ${actor.personId}`,
      );
      const joined = await rows<{ changeId: number; on: string }>(
        db,
        sql`
        select id as "changeId", (made_at at time zone ${actor.timeZone})::date as "on" from change_log
        where kind = 'join-accounts' and actor_id = ${actor.personId} and undone_by is null and made_at > now() - make_interval(days => ${joinedDays}::int) order by id`,
      );
      return { ...own, joined };
    },

    async undoJoin({ actor, params: { changeId } }) {
      found(
        await maybeRow(
          db,
          sql`select 1 from change_log where id = ${changeId} and kind = 'join-accounts' and actor_id = ${actor.personId} and undone_by is null and made_at > now() - make_interval(days => ${joinedDays}::int)`,
        ),
      );
      const change = { kind: 'undo' as const, changeId };
      const { digest } = await lookOf(db, actor, (await planChange(db, actor, change, settings.publicUrl)).effects);
      await applyChange(deps, actor.personId, change, { digest, requestId: randomUUID() });
    },

    async changeAddress({ actor, body, request }) {
      if (emailProblem(body.address) !== null)
        throw new ProblemError('given-wrong', { where: [{ place: 'address', what: 'not an address' }] });
      if (actor.onlyIn !== null) throw new ProblemError('not-found');
      const account = `password of ${actor.personId}`;
      await limiter.take(account, request.ip ?? '');
      const stored = await firstOf(
        db
          .select({ password_hash: tables.credential.passwordHash })
          .from(tables.credential)
          .where(eq(tables.credential.personId, actor.personId)),
      );
      if (!(await isPassword(stored?.password_hash ?? null, body.current))) throw new ProblemError('wrong-password');
      await limiter.passed(account, request.ip ?? '');
      await byAccount.take(String(actor.personId));
      await writeConfirming(db, settings.publicUrl, 'confirm address', [
        { personId: actor.personId, address: body.address, groupId: await groupOf(db, actor.personId), values: { name: actor.givenName } },
      ]);
    },
  };
}

async function groupOf(db: Queryable, personId: number): Promise<number | null> {
  const held = await firstOf(
    db
      .select({ id: tables.membership.groupId })
      .from(tables.membership)
      .where(and(eq(tables.membership.personId, personId), isNull(tables.membership.untilAt)))
      .orderBy(tables.membership.rowId)
      .limit(1),
  );
  return held?.id ?? null;
}
