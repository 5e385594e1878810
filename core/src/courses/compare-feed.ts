import { nameKey, tidyName } from '../groups/group-name.ts';

/** A course as a course platform offers it. What it does not say of it (left out) stays as it is here. */
export interface FeedCourse {
  id: string;
  title: string;
  code?: string | null | undefined;
  subject?: string | null | undefined;
  description?: string | null | undefined;
  units: readonly FeedUnit[];
}

interface FeedUnit {
  id: string;
  title: string;
  activities: readonly { id: string; title: string; scored: boolean }[];
}

/** A course of the platform as it is here. `externalId` null: made here, or not yet known to be the platform's. */
export interface KnownCourse {
  id: number;
  externalId: string | null;
  name: string;
  code: string | null;
  subject: string | null;
  description: string | null;
  archived: boolean;
  units: readonly KnownUnit[];
}

interface KnownUnit {
  id: number;
  externalId: string | null;
  name: string;
  /** `isOurs`: it is handed in or ticked off here, and so keeps the name that it has here. */
  activities: readonly { id: number; externalId: string | null; name: string; scored: boolean; isOurs: boolean }[];
}

/** Units as they would be; `id` null: to be made. */
export interface UnitFromFeed {
  id: number | null;
  externalId: string | null;
  name: string;
  activities: { id: number | null; externalId: string | null; name: string; scored: boolean }[];
}

export type FeedField = 'name' | 'code' | 'subject' | 'description' | 'units' | 'archived';

export interface ChangedByFeed {
  course: FeedCourse;
  known: KnownCourse;
  /** What would be otherwise; none: it is only known from now on to be the platform's. */
  fields: FeedField[];
  values: Partial<Pick<KnownCourse, 'name' | 'code' | 'subject' | 'description' | 'archived'>>;
  units: UnitFromFeed[];
}

export interface FeedDifference {
  fresh: FeedCourse[];
  changed: ChangedByFeed[];
  /** Came from the platform once, and is not offered any more. */
  gone: KnownCourse[];
  same: number;
}

/**
 * What a platform offers beside what is here. A course is known by the platform's number for it; one that has none yet by its code,
 * else by its name. Units and activities likewise, and what was made here by hand stays behind those of the platform.
 * @param feed No number twice.
 */
export function compareFeed(feed: readonly FeedCourse[], known: readonly KnownCourse[]): FeedDifference {
  const byNumber = new Map(known.flatMap((course) => (course.externalId === null ? [] : [[course.externalId, course] as const])));
  const taken = new Set(feed.flatMap(({ id }) => byNumber.get(id) ?? []));
  const found: FeedDifference = { fresh: [], changed: [], gone: [], same: 0 };
  for (const course of feed) {
    const match = byNumber.get(course.id) ?? known.find((each) => each.externalId === null && !taken.has(each) && isAlike(course, each));
    if (!match) {
      found.fresh.push(course);
      continue;
    }
    taken.add(match);
    const changed = changedBy(course, match);
    if (changed.fields.length === 0 && match.externalId !== null) found.same++;
    else found.changed.push(changed);
  }
  found.gone = known.filter((course) => course.externalId !== null && !course.archived && !taken.has(course));
  return found;
}

const isAlike = (course: FeedCourse, known: KnownCourse): boolean =>
  course.code && known.code ? course.code.toLowerCase() === known.code.toLowerCase() : nameKey(course.title) === nameKey(known.name);

function changedBy(course: FeedCourse, known: KnownCourse): ChangedByFeed {
  const wished = { name: tidyName(course.title), code: course.code, subject: course.subject, description: course.description };
  const values: ChangedByFeed['values'] = {};
  for (const field of ['name', 'code', 'subject', 'description'] as const) {
    const value = wished[field];
    if (value !== undefined && value !== known[field]) Object.assign(values, { [field]: value });
  }
  if (known.archived) values.archived = false;
  const units = unitsAfter(course, known);
  const isOtherwise = JSON.stringify(units) !== JSON.stringify(known.units.map(asWished));
  return { course, known, values, units, fields: [...(Object.keys(values) as FeedField[]), ...(isOtherwise ? (['units'] as const) : [])] };
}

const asActivity = ({ id, externalId, name, scored }: KnownUnit['activities'][number]): UnitFromFeed['activities'][number] => ({
  id,
  externalId,
  name,
  scored,
});

const asWished = ({ id, externalId, name, activities }: KnownUnit): UnitFromFeed => ({
  id,
  externalId,
  name,
  activities: activities.map(asActivity),
});

/** What has the number, else the first without one that has the name; each once. */
function finder<T extends { id: number; externalId: string | null; name: string }>(known: readonly T[]) {
  const left = new Set(known);
  return (externalId: string, name: string): T | undefined => {
    const list = [...left];
    const match =
      list.find((each) => each.externalId === externalId) ??
      list.find((each) => each.externalId === null && nameKey(each.name) === nameKey(name));
    if (match) left.delete(match);
    return match;
  };
}

function unitsAfter(course: FeedCourse, known: KnownCourse): UnitFromFeed[] {
  const unitOf = finder(known.units);
  const activityOf = finder(known.units.flatMap(({ activities }) => activities));
  const matched = course.units.map((unit) => ({ unit, match: unitOf(unit.id, unit.title) }));
  const placed = matched.map(({ unit, match }) => ({
    match,
    wished: {
      id: match?.id ?? null,
      externalId: unit.id,
      name: tidyName(unit.title),
      activities: unit.activities.map((activity) => {
        const known = activityOf(activity.id, activity.title);
        const here = { externalId: activity.id, name: tidyName(activity.title), scored: activity.scored };
        return { id: known?.id ?? null, ...here, ...(known?.isOurs ? { name: known.name, scored: known.scored } : {}) };
      }),
    },
  }));
  const used = new Set(placed.flatMap(({ wished }) => wished.activities.flatMap(({ id }) => id ?? [])));
  const stay = known.units.filter((each) => each.externalId === null && !placed.some(({ match }) => match === each));
  return [
    ...placed.map(({ match, wished }) => ({
      ...wished,
      activities: [
        ...wished.activities,
        ...(match?.activities ?? []).filter(({ id, externalId }) => externalId === null && !used.has(id)).map(asActivity),
      ],
    })),
    ...stay
      .map((each) => asWished({ ...each, activities: each.activities.filter(({ id }) => !used.has(id)) }))
      .filter(({ activities }) => activities.length > 0),
  ];
}
