import { iso } from '../database/connect.ts';
import { partsAbout } from '../splits/running.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { courseOnDay, personCoursesOn, personStandings, whyAt } from './as-of.ts';
import { askForCourse, myCourseRequests, takeBackCourseRequest } from './ask-for-course.ts';
import { calendarFile, calendarOf, replaceCalendar, stopCalendar } from './calendar.ts';
import { comingPeople, comingUp } from './coming-up.ts';
import { courseRequestsInScope } from './course-requests.ts';
import { accessGrid } from './grid.ts';
import { couldGetInFile, whoCouldGetIn } from './who-could-get-in.ts';

export function accessHandlers(deps: Deps): Handlers {
  const { db, requestKey, settings, now } = deps;
  return {
    async accessGrid({ actor, params, query }) {
      await pathTo(db, actor, params.groupId);
      return accessGrid(db, actor, params.groupId, query.day);
    },

    async comingUp({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return comingUp(db, actor, { groupId, withSubgroups: query.subgroups === 'yes' }, query);
    },

    async comingPeople({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return comingPeople(db, actor, { groupId, withSubgroups: query.subgroups === 'yes' }, query);
    },

    async myCalendar({ actor }) {
      const { madeAt, readAt } = await calendarOf(db, actor.personId);
      return { madeAt: madeAt && iso(madeAt), readAt: readAt && iso(readAt) };
    },

    async replaceCalendar({ actor }) {
      return { key: await replaceCalendar(db, actor.personId) };
    },

    async stopCalendar({ actor }) {
      await stopCalendar(db, actor.personId);
      return undefined;
    },

    async calendar({ params: { key } }) {
      return calendarFile(db, key, settings.publicUrl, now());
    },

    async accessWhy({ actor, params: { groupId, courseId }, query }) {
      await pathTo(db, actor, groupId);
      return {
        why: await whyAt(db, actor, groupId, courseId, query.day),
        parts: query.day === undefined ? await partsAbout(db, actor, groupId, courseId) : [],
      };
    },

    async personCourses({ actor, params, query }) {
      return personCoursesOn(db, actor, params.personId, query.day);
    },

    async personStandings({ actor, params, query }) {
      return personStandings(deps, actor, params.personId, query.day);
    },

    async courseOnDay({ actor, params: { groupId, courseId }, query: { subgroups, day } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return courseOnDay(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, courseId, day);
    },

    async couldGetIn({ actor, params: { groupId, courseId }, query: { subgroups, ...span } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return whoCouldGetIn(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, { courseId, ...span });
    },

    async couldGetInFile({ actor, params: { groupId, courseId }, query: { subgroups, ...span }, response }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const path = await pathTo(db, actor, groupId, 'export');
      const scope = { groupId, withSubgroups: subgroups === 'yes', name: path.at(-1)?.name ?? '' };
      const { text, fileName } = await couldGetInFile(db, actor, scope, { courseId, ...span });
      response.setHeader('Content-Disposition', `attachment; filename="${fileName}"`);
      return text;
    },

    async courseRequests({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'openCourses');
      return courseRequestsInScope(db, actor, { groupId, withSubgroups: query.subgroups === 'yes' });
    },

    async myCourseRequests({ actor }) {
      return myCourseRequests(db, actor);
    },

    async askForCourse({ actor, body }) {
      await askForCourse({ db, requestKey }, actor, body);
      return {};
    },

    async takeBackCourseRequest({ actor, body }) {
      await takeBackCourseRequest({ db, requestKey }, actor, body);
      return {};
    },
  };
}
