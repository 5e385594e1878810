import { and, eq, isNull, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { slowDown } from '../accounts/slow-down.ts';
import { noteAct } from '../changes/note-act.ts';
import { onceOutside, outsideRequest } from '../changes/outside-request.ts';
import { courseSight } from '../courses/own-courses.ts';
import { firstOf, ids, maybeRow, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import { maybeFile } from '../groups/uploads.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { announce } from '../live/announce.ts';
import { reachedBy } from './audience.ts';
import { goingOut } from './going-out.ts';
import { happened, myHappenings } from './happened.ts';
import { rehearsal, remindersOf } from './read-reminders.ts';
import { isOver } from './message-parts.ts';
import {
  messageSheet,
  messagesInScope,
  messageToMe,
  myMessages,
  readersOf,
  type StandingMessage,
  standingMessage,
} from './read-messages.ts';

const answersPerPerson = { points: 60, seconds: 3600 };

export function messageHandlers(deps: Deps): Handlers {
  const { db, requestKey } = deps;
  const answers = slowDown(deps.pool, 'answer', answersPerPerson);
  /** Screens of the groups that it concerns follow. */
  const tellOf = (tx: Transaction, { groupId, toGroups }: StandingMessage): Promise<void> =>
    announce(tx, { topics: ['messages'], groups: [...new Set([groupId, ...(toGroups ?? [])])] });

  /** One answer, once, whatever happens to the connection. */
  async function answer(
    actor: SignedIn,
    message: StandingMessage,
    { words, toPersonId, requestId }: { words: string; toPersonId: number | null; requestId: string },
  ): Promise<void> {
    await answers.take(String(actor.personId));
    await db.transaction((tx) =>
      onceOutside(
        tx,
        outsideRequest(requestKey, requestId, { personId: actor.personId, messageId: message.id, words, toPersonId }),
        async () => {
          await tx.insert(tables.messageAnswer).values({ messageId: message.id, personId: actor.personId, toPersonId, words });
          await tellOf(tx, message);
          return {};
        },
      ),
    );
  }

  const stopBy = async (key: string): Promise<void> => {
    found(
      await firstOf(
        db
          .update(tables.person)
          .set({ letters: 'never' })
          .where(and(eq(tables.person.stopKey, key), isNull(tables.person.erasedAt)))
          .returning({ id: tables.person.id }),
      ),
    );
  };

  return {
    async messages({ actor, params: { groupId }, query: { subgroups, ...which } }) {
      return messagesInScope(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, which);
    },

    async message({ actor, params: { messageId } }) {
      return messageSheet(db, actor, messageId);
    },

    async messageReaders({ actor, params: { messageId }, query }) {
      return readersOf(db, actor, messageId, query);
    },

    async reminders({ actor, params: { groupId } }) {
      return remindersOf(db, actor, groupId);
    },

    async rehearseReminders({ actor, params: { groupId }, query: { subgroups, day, occasion, aboutId } }) {
      const one = day && occasion && aboutId ? { day, occasion, aboutId } : null;
      return rehearsal(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, one);
    },

    async goingOut({ actor, params: { groupId }, query: { subgroups, ...which } }) {
      return goingOut(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, which);
    },

    async happened({ actor, params: { groupId }, query: { subgroups, ...which } }) {
      return happened(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, which);
    },

    async myHappenings({ actor, params: { groupId }, query: { before } }) {
      return myHappenings(db, actor, groupId, before);
    },

    async writeAnswer({ actor, params: { messageId }, body }) {
      const message = await standingMessage(db, actor, messageId);
      await pathTo(db, actor, message.groupId, 'writeMessages');
      const reaches = reachedBy({ messageId, ...message });
      if (
        body.toPersonId !== null &&
        !(await maybeRow(db, sql`select 1 from person p where p.id = any(${ids([body.toPersonId])}) and ${reaches}`))
      )
        throw notFound();
      await answer(actor, message, body);
      return {};
    },

    async hideAnswer({ actor, params: { messageId, answerId }, body: { hidden } }) {
      const message = await standingMessage(db, actor, messageId);
      await pathTo(db, actor, message.groupId, 'writeMessages');
      await db.transaction(async (tx) => {
        const { author } = found(
          await firstOf(
            tx
              .update(tables.messageAnswer)
              .set({ hiddenBy: hidden ? actor.personId : null })
              .where(and(eq(tables.messageAnswer.id, answerId), eq(tables.messageAnswer.messageId, messageId)))
              .returning({ author: tables.messageAnswer.personId }),
          ),
        );
        await noteAct(tx, actor.personId, 'hide-answer', author, [message.groupId]);
        await tellOf(tx, message);
      });
      return {};
    },

    async myMessages({ actor }) {
      return myMessages(db, actor);
    },

    async readMessage({ actor, params: { messageId }, body: { done, choices, ownWords } }) {
      const message = await messageToMe(db, actor, messageId);
      const isWrong =
        ((done !== undefined || choices !== undefined || ownWords !== undefined) && isOver(message, actor.today)) ||
        (ownWords !== undefined && !message.ownWords) ||
        (done !== undefined && (message.kind !== 'task' || message.activityId !== null)) ||
        (choices !== undefined &&
          (message.kind !== 'question' ||
            choices.some((place) => place >= (message.choices?.length ?? 0)) ||
            (!message.several && choices.length > 1)));
      if (isWrong) throw new ProblemError('bad-request', { where: [{ place: 'body', what: 'Not what this message asks' }] });
      const chosen = choices === undefined ? null : choices.length === 0 ? '{}' : `{${[...new Set(choices)].join()}}`;
      await db.transaction(async (tx) => {
        await tx.execute(sql`
          insert into message_reader (message_id, person_id, seen_at, done_at, choices, own_words)
          values (${messageId}, ${actor.personId}, now(), ${done === true ? sql`now()` : sql`null`}, nullif(${chosen}::int[], '{}'), nullif(${ownWords ?? null}::text, ''))
          on conflict (message_id, person_id) do update set seen_at = coalesce(message_reader.seen_at, now()),
            done_at = ${done === undefined ? sql`message_reader.done_at` : done ? sql`coalesce(message_reader.done_at, now())` : sql`null`},
            own_words = ${ownWords === undefined ? sql`message_reader.own_words` : sql`nullif(${ownWords}::text, '')`},
            choices = ${choices === undefined ? sql`message_reader.choices` : sql`nullif(${chosen}::int[], '{}')`}`);
        await tellOf(tx, message);
      });
      return {};
    },

    async answerMessage({ actor, params: { messageId }, body: { words, requestId } }) {
      const message = await messageToMe(db, actor, messageId);
      if (!message.answers || message.isClosed) throw notFound();
      await answer(actor, message, { words, toPersonId: null, requestId });
      return {};
    },

    async closeThread({ actor, params: { messageId }, body: { closed } }) {
      const message = await standingMessage(db, actor, messageId);
      await pathTo(db, actor, message.groupId, 'writeMessages');
      await db.transaction(async (tx) => {
        await noteAct(tx, actor.personId, 'close-thread', [], [message.groupId]);
        await tx.execute(
          sql`update message set closed_at = ${closed ? sql`coalesce(closed_at, now())` : sql`null`} where id = ${messageId}`,
        );
        await tellOf(tx, message);
      });
      return {};
    },

    async messageFile({ actor, params: { messageId, fileId } }) {
      const message = await messageToMe(db, actor, messageId).catch(() => standingMessage(db, actor, messageId));
      // It is saved, never shown in place, whatever it is.
      return { ...found(await maybeFile(db, message.fileIds.includes(fileId) ? fileId : null)), isPicture: false };
    },

    async handInActivities({ actor, params: { groupId } }) {
      await pathTo(db, actor, groupId, 'writeMessages');
      const activities = await rows<{ id: number; name: string; course: string }>(
        db,
        sql`select a.id, a.name, c.name as course from activity_now a join course_now c on c.id = a.course_id and not c.archived where a.finished_by = 'marker' and ${(await courseSight(db, actor))(sql`c.home_id`)} order by c.name collate people_order, a.name limit 500`,
      );
      return { activities };
    },

    async chooseLetters({ actor, body: { letters } }) {
      await db.update(tables.person).set({ letters }).where(eq(tables.person.id, actor.personId));
      return {};
    },

    async stopLetters({ body: { key } }) {
      await stopBy(key);
      return {};
    },

    async stopLettersAtOnce({ params: { key } }) {
      await stopBy(key);
    },
  };
}
