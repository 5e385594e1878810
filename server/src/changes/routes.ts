import { changeFitsCore, type WhoList } from '@gate-roster/contract';
import type { Effects, Who } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { applyChange, lookOf, peopleOfSets, planChange } from './apply.ts';
import { visiblePerson } from '../people/scope.ts';
import { logPage } from './log.ts';

const namesAtOnce = 100;

export function changeHandlers({ db, settings }: Deps): Handlers {
  return {
    async look({ actor, body }) {
      return lookOf(db, (await planChange(db, actor, changeFitsCore(body.change), settings.publicUrl)).effects);
    },

    async apply({ actor, body }) {
      return applyChange(db, actor, changeFitsCore(body.change), {
        digest: body.digest,
        requestId: body.requestId,
        publicUrl: settings.publicUrl,
      });
    },

    async lookPeople({ actor, body }) {
      const { effects } = await planChange(db, actor, changeFitsCore(body.change), settings.publicUrl);
      const parts = whoOf(effects, body);
      const persons = [
        ...new Set([
          ...(await peopleOfSets(
            db,
            parts.flatMap(({ sets }) => sets),
          )),
          ...parts.flatMap((who) => who.persons),
        ]),
      ].sort((a, b) => a - b);
      const page = persons.filter((id) => body.after === null || id > body.after).slice(0, namesAtOnce);
      const people = await rows<{ id: number; name: string }>(
        db,
        sql`
        select person_id as id, given_name || ' ' || family_name as name from personal_now where person_id = any(${ids(page)}) order by family_name collate people_order, given_name collate people_order`,
      );
      const classes = [...new Set(parts.flatMap(({ newcomers }) => newcomers))];
      return {
        people,
        newcomers: classes.reduce((sum, index) => sum + (effects.newcomers[index] ?? 0), 0),
        next: page.length === namesAtOnce ? (page.at(-1) ?? null) : null,
      };
    },

    async log({ actor, query }) {
      if (query.groupId) await pathTo(db, actor, query.groupId);
      if (query.personId) await visiblePerson(db, actor, query.personId);
      return logPage(db, actor, query);
    },
  };
}

function whoOf(effects: Effects, { list, courseId, groupId }: { list: WhoList; courseId: number | null; groupId: number | null }): Who[] {
  const persons = (ids: number[]): Who[] => [{ sets: [], persons: ids, newcomers: [] }];
  if (list === 'takenBack') return persons(effects.takenBack);
  if (list === 'changed') return persons(effects.changedPeople);
  if (list === 'joins' || list === 'leaves')
    return effects[list].filter((effect) => groupId === null || effect.groupId === groupId).map(({ who }) => who);
  return effects[list].filter((effect) => courseId === null || effect.courseId === courseId).map(({ who }) => who);
}
