import type { Filter } from '@gate-roster/core';
import type { SignedIn } from '../accounts/actor.ts';
import { branchTops } from '../accounts/reach.ts';
import { slowDown } from '../accounts/slow-down.ts';
import { fileOfActivity, seesHome } from '../courses/own-courses.ts';
import type { Transaction } from '../database/connect.ts';
import { type FilterReader, filterReader, withFitting } from '../filters/conditions.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import { maybeFile } from '../groups/uploads.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound } from '../http/problem.ts';
import { openNow } from '../splits/running.ts';
import { addFile, fileOfKey, maybeWorkFile } from './files.ts';
import { claimWork, freeOthers, handedIn, workSheet } from './handed-in.ts';
import { draftForFile, learnerOf, myWork, removeFile, saveWork, takeBack, tick } from './my-work.ts';
import { mySkills, peopleWithSkill, skillsOf } from './skills.ts';

const savesPerPerson = { points: 300, seconds: 3600 };

export function workHandlers(deps: Deps): Handlers {
  const { db, requestKey: secret, now, settings } = deps;
  const saves = slowDown(deps.pool, 'hand in', savesPerPerson);
  const readerOf = async (
    actor: SignedIn,
    { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
    filter: Filter,
  ): Promise<FilterReader> => withFitting(await filterReader(db, actor, deps.columns), groupId, withSubgroups, filter);
  return {
    async handedIn({ actor, params: { groupId }, query: { subgroups, mine, ...which } }) {
      await pathTo(db, actor, groupId, 'markWork');
      const scope = { groupId, withSubgroups: subgroups === 'yes' };
      return handedIn(db, await readerOf(actor, scope, which.filter), scope, { ...which, mine: mine === 'yes' });
    },

    async workSheet({ actor, params: { versionId } }) {
      return workSheet(db, actor, versionId, { secret, now: now() });
    },

    async claimWork({ actor, params: { versionId }, body: { take } }) {
      return db.transaction(async (tx) => {
        if (take) await freeOthers(tx, actor.personId, versionId);
        return claimWork(tx, actor, versionId, take);
      });
    },

    async workFile({ params: { key } }) {
      return found(await maybeWorkFile(db, fileOfKey(secret, key, now())));
    },

    async skillsOffered({ actor, params: { groupId }, query: { subgroups, filter } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const scope = { groupId, withSubgroups: subgroups === 'yes' };
      return skillsOf(db, await readerOf(actor, scope, filter), scope, filter);
    },

    async skillPeople({ actor, params: { groupId, skillId }, query: { subgroups, filter } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const scope = { groupId, withSubgroups: subgroups === 'yes' };
      return peopleWithSkill(db, await readerOf(actor, scope, filter), scope, skillId, filter);
    },

    async activityFile({ actor, params: { activityId } }) {
      const { courseId, unitId, uploadId, home } = found(await fileOfActivity(db, activityId));
      const { units, enrolment } = await openNow(db, await learnerOf(db, actor), courseId);
      const isTheirs = units.includes(unitId) || (enrolment?.units ?? []).includes(unitId);
      if (!isTheirs && (branchTops(actor)?.length === 0 || !(home === null || seesHome(actor, await wholeTree(db), home))))
        throw notFound();
      // Like a handout, it is saved, never shown in place.
      return { ...found(await maybeFile(db, uploadId)), isPicture: false };
    },

    async myWork({ actor, params: { courseId } }) {
      return myWork(db, await learnerOf(db, actor), courseId, { secret, now: now() });
    },

    async saveWork({ actor, params: { activityId }, body }) {
      await saves.take(String(actor.personId));
      const learner = await learnerOf(db, actor);
      return {
        versionId: await db.transaction((tx) => saveWork(tx, learner, activityId, body, { now: now(), publicUrl: settings.publicUrl })),
      };
    },

    async addWorkFile({ actor, params: { activityId }, body: { fileName, base64 } }) {
      await saves.take(String(actor.personId));
      const learner = await learnerOf(db, actor);
      const content = Buffer.from(base64, 'base64');
      return {
        id: await db.transaction(async (tx: Transaction) => addFile(tx, await draftForFile(tx, learner, activityId), fileName, content)),
      };
    },

    async removeWorkFile({ actor, params: { fileId } }) {
      await db.transaction((tx) => removeFile(tx, actor.personId, fileId));
    },

    async takeBackWork({ actor, params: { activityId } }) {
      const learner = await learnerOf(db, actor);
      await db.transaction((tx) => takeBack(tx, learner, activityId, now()));
      return {};
    },

    async tickActivity({ actor, params: { activityId }, body: { finished } }) {
      const learner = await learnerOf(db, actor);
      await db.transaction((tx) => tick(tx, learner, activityId, finished, now()));
      return {};
    },

    async mySkills({ actor }) {
      return mySkills(db, actor.personId);
    },
  };
}
