import { dayOfMoment, nameKey, signInName, tidyName } from '@gate-roster/core';
import { eq, isNull, sql } from 'drizzle-orm';
import { firstOf, maybeRow, oneRow, onlyOne, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { outsideRequest } from '../changes/outside-request.ts';
import { noteAct } from '../changes/note-act.ts';
import { rebuildDerived } from '../database/rebuild.ts';
import { wholeTree } from '../groups/queries.ts';
import { openEntryOf } from '../entry/hold-place.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { announce } from '../live/announce.ts';
import { maybeAccount } from '../people/account.ts';
import { actorOf, maybeActor } from './actor.ts';
import { isInvited } from '../entry/invite.ts';
import { acceptInvitation, invitationOfPerson, invitationOfToken, type OneTimeKey, ownerOfKey, useKey } from './one-time.ts';
import { dropSignIns } from './sign-ins.ts';
import { hashPassword, hasPassword, isPassword } from './password.ts';
import { beginSession, meOf } from './session.ts';
import { signInLimiter } from './slow-down.ts';
import { noteTrouble } from './trouble.ts';

export function accountHandlers(deps: Deps): Handlers {
  const limiter = signInLimiter(deps.pool);
  const wordTries = (name: string): string => `word of ${name.toLowerCase()}`;
  /** A word is short, so tries are counted; a token is not to be guessed. */
  async function triesOfWord(key: OneTimeKey, address: string): Promise<void> {
    if ('word' in key) await limiter.take(wordTries(key.signInName), address);
  }
  return {
    async site() {
      const site = await firstOf(deps.db.select({ name: tables.organisation.name }).from(tables.organisation));
      return { empty: site === null, organisation: site?.name ?? null };
    },

    async siteSettings({ actor: { organisation, dueSoonDays, undoDays } }) {
      const others = await onlyOne(
        deps.db
          .select({
            markReminderDays: tables.organisation.markReminderDays,
            quietFrom: tables.organisation.quietFrom,
            quietUntil: tables.organisation.quietUntil,
          })
          .from(tables.organisation),
      );
      return { organisation, dueSoonDays, undoDays, ...others };
    },

    async editSite({ actor, body: { organisation, dueSoonDays, undoDays, markReminderDays, quietFrom, quietUntil } }) {
      await deps.db.transaction(async (tx) => {
        await tx.execute(
          sql`update organisation set name = ${organisation}, due_soon_days = ${dueSoonDays}, undo_days = ${undoDays}, mark_reminder_days = ${markReminderDays},
            quiet_from = ${quietFrom}, quiet_until = ${quietUntil}`,
        );
        const roots = await tx.select({ id: tables.groupNow.id }).from(tables.groupNow).where(isNull(tables.groupNow.parentId));
        const top = roots.map(({ id }) => id);
        await noteAct(tx, actor.personId, 'edit-site', [], top);
        await announce(tx, { topics: ['people', 'progress', 'access'], groups: top });
      });
    },

    async beginSite({ body, request }) {
      if (!Intl.supportedValuesOf('timeZone').concat('UTC').includes(body.timeZone)) {
        throw new ProblemError('bad-request', { where: [{ place: 'body.timeZone', what: 'Unknown time zone' }] });
      }
      const passwordHash = await hashPassword(body.password);
      const personId = await deps.db.transaction(async (tx) => {
        const begun = await tx.execute(
          sql`insert into organisation (name, time_zone) values (${body.organisation}, ${body.timeZone}) on conflict do nothing`,
        );
        if (begun.rowCount !== 1) throw new ProblemError('already-begun');
        const root = await oneRow<{ id: number }>(tx, sql`insert into groups default values returning id`);
        await tx
          .insert(tables.groupVersion)
          .values({ groupId: root.id, name: tidyName(body.organisation), nameKey: nameKey(body.organisation) });
        await tx.insert(tables.membershipSet).values({ key: '' }).onConflictDoNothing();
        const person = await oneRow<{ id: number }>(
          tx,
          sql`insert into person (role, set_id) select 'administrator', id from membership_set where key = '' returning id`,
        );
        // A sign-in name never holds an @: who gives an address signs in by it, and gets a plain name beside it.
        const email = body.signInName.includes('@') ? body.signInName : null;
        const plain =
          email === null
            ? body.signInName
            : signInName(
                { givenName: body.givenName, familyName: body.familyName },
                () => false,
                () => 0,
              );
        await tx.insert(tables.personal).values({
          personId: person.id,
          givenName: body.givenName,
          familyName: body.familyName,
          email,
          confirmedEmail: email,
          signInName: plain,
        });
        await tx.insert(tables.personState).values({ personId: person.id, state: 'active' });
        await tx.insert(tables.credential).values({ personId: person.id, passwordHash });
        await rebuildDerived(tx, dayOfMoment(deps.now(), body.timeZone));
        return person.id;
      });
      return beginSession(deps, request, personId);
    },

    async me({ actor }) {
      return meOf(deps, actor);
    },

    async signIn({ body, request }) {
      const address = request.ip ?? '';
      const account = await maybeRow<{ id: number; password_hash: string | null; state: string }>(
        deps.db,
        sql`
        select n.person_id as id, c.password_hash, s.state from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null left join credential c on c.person_id = n.person_id
        where n.sign_in_name = ${body.signInName} or n.confirmed_email = ${body.signInName} limit 1`,
      );
      // Counted before anything is checked, and for one account alike by whichever name it is meant.
      const key = account ? `account ${account.id}` : body.signInName.toLowerCase();
      await limiter.take(key, address);
      if (!(await isPassword(account?.password_hash ?? null, body.password)) || !account) {
        throw new ProblemError('wrong-sign-in', { number: await noteTrouble(deps.db, account?.id ?? null) });
      }
      await limiter.passed(key, address);
      // Whoever knows the password may know that nobody has decided yet.
      if (account.state === 'asking') {
        const entry = await openEntryOf(deps.db, account.id);
        if (entry === null) throw new ProblemError('still-asking');
        request.session.paidEntry = entry;
        throw new ProblemError('still-paying');
      }
      await deps.db
        .update(tables.person)
        .set({ signedInAt: sql`now()`, activeAt: sql`now()` })
        .where(eq(tables.person.id, account.id));
      await deps.db.delete(tables.signInTrouble).where(eq(tables.signInTrouble.personId, account.id));
      try {
        return await beginSession(deps, request, account.id);
      } catch (error) {
        // A paused or ended account fails like a wrong password: strangers learn nothing.
        if (error instanceof ProblemError && error.code === 'not-signed-in')
          throw new ProblemError('wrong-sign-in', { number: await noteTrouble(deps.db, account.id) });
        throw error;
      }
    },

    async signOut({ request, actor }) {
      await new Promise<void>((resolve, reject) => {
        request.session.destroy((error: unknown) => (error instanceof Error ? reject(error) : resolve()));
      });
      await announce(deps.db, { topics: ['session'], groups: [], personId: actor.personId });
    },

    async seeAs({ actor, body: { personId }, request }) {
      const tree = await wholeTree(deps.db);
      const account = await maybeAccount(deps.db, tree, personId);
      // An administrator is not looked at: there would be nothing less to see.
      if (!account || account.role === 'administrator' || !(await maybeActor(deps.db, personId, deps.now()))) throw notFound();
      request.session.seeAs = personId;
      await noteAct(
        deps.db,
        actor.personId,
        'see-as',
        personId,
        account.paths.flatMap((path) => path.at(-1) ?? []),
      );
      return meOf(deps, await actorOf(deps, request));
    },

    async stopSeeing({ request }) {
      delete request.session.seeAs;
      return meOf(deps, await actorOf(deps, request));
    },

    async oneTime({ body, request }) {
      await triesOfWord(body, request.ip ?? '');
      const { name, organisation, kind } = await ownerOfKey(deps.db, deps.now(), body);
      return { name, organisation, kind };
    },

    async useOneTime({ body, request }) {
      const address = request.ip ?? '';
      await triesOfWord(body.key, address);
      const { kind } = await ownerOfKey(deps.db, deps.now(), body.key);
      if ('word' in body.key) await limiter.passed(wordTries(body.key.signInName), address);
      // A card lies about: whoever uses it first makes the account theirs with a password.
      if (kind === 'card' && body.password === null)
        throw new ProblemError('bad-request', { where: [{ place: 'body.password', what: 'A card needs a password' }] });
      const passwordHash = body.password === null ? null : await hashPassword(body.password);
      const { personId, cardGroup } = await useKey(deps.db, deps.now(), body.key, passwordHash);
      return beginSession(deps, request, personId, cardGroup);
    },

    async invitationOf({ body }) {
      const found = await invitationOfToken(deps.db, body.token);
      await deps.db.execute(sql`update invitation set opened_at = coalesce(opened_at, now()) where row_id = ${found.row_id}`);
      await announce(deps.db, { topics: ['entry'], groups: [found.group_id] });
      return {
        group: found.group,
        organisation: found.organisation,
        leads: found.powers !== null,
        givenName: found.given_name,
        familyName: found.family_name,
        isKnown: found.known !== null,
      };
    },

    async acceptInvitation({ body, request }) {
      const { password, requestId, ...sent } = body;
      const passwordHash = password === null ? null : await hashPassword(password);
      const { outcome, isReplay } = await acceptInvitation(
        deps,
        (db) => invitationOfToken(db, body.token),
        { givenName: body.givenName, familyName: body.familyName, passwordHash },
        outsideRequest(deps.requestKey, requestId, sent),
      );
      const made = outcome.newPersonId;
      // Sent again it signs in only with the password that was set the first time.
      const isTheirs = made !== null && (!isReplay || (await hasPassword(deps.db, made, password ?? '')));
      if (made !== null && isTheirs) await beginSession(deps, request, made);
      return { isSignedIn: isTheirs };
    },

    async myInvitations({ actor }) {
      return {
        invitations: await rows<{ id: number; group: string; leads: boolean }>(
          deps.db,
          sql`
          select i.row_id as id, g.name as "group", i.powers is not null as leads from invitation i join group_now g on g.id = i.group_id
          join personal_now n on ${isInvited(sql`i.email`)} where n.person_id = ${actor.personId} and i.until_at is null and i.ends_at > now() order by i.row_id`,
        ),
      };
    },

    async acceptMine({ actor, params: { invitationId }, body: { requestId } }) {
      await acceptInvitation(
        deps,
        (db) => invitationOfPerson(db, invitationId, actor.personId),
        { givenName: '', familyName: '', passwordHash: null },
        outsideRequest(deps.requestKey, requestId, { invitationId, personId: actor.personId }),
      );
    },

    async changePassword({ actor, body, request }) {
      const stored = await firstOf(
        deps.db
          .select({ password_hash: tables.credential.passwordHash })
          .from(tables.credential)
          .where(eq(tables.credential.personId, actor.personId)),
      );
      const address = request.ip ?? '';
      const key = `password of ${actor.personId}`;
      await limiter.take(key, address);
      if (!(await isPassword(stored?.password_hash ?? null, body.current))) throw new ProblemError('wrong-password');
      await limiter.passed(key, address);
      const passwordHash = await hashPassword(body.next);
      await deps.db.transaction(async (tx) => {
        await tx
          .update(tables.credential)
          .set({ passwordHash, changedAt: sql`now()` })
          .where(eq(tables.credential.personId, actor.personId));
        await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(actor.personId)} and sid <> ${request.sessionID}`);
        await dropSignIns(tx, [actor.personId]);
      });
      await announce(deps.db, { topics: ['session'], groups: [], personId: actor.personId });
    },
  };
}
