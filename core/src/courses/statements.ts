/*
 * What an xAPI statement (version 1.0.3) says of progress, and which of it is personal. A verb is an address; the last part of those
 * of the common vocabulary is what is read.
 */

const verbHomes = ['http://adlnet.gov/expapi/verbs/', 'https://w3id.org/xapi/adl/verbs/', 'http://w3id.org/xapi/adl/verbs/'];
const readVerbs = ['completed', 'passed', 'failed', 'progressed', 'scored', 'answered', 'voided'] as const;
export type StatementVerb = (typeof readVerbs)[number];

/** @returns null for a verb that says nothing of progress. */
export function verbOf(verbId: string): StatementVerb | null {
  const home = verbHomes.find((each) => verbId.startsWith(each));
  return readVerbs.find((verb) => home !== undefined && verbId === home + verb) ?? null;
}

/** A score as a statement gives it: `scaled` from -1 to 1, or `raw` between `min` (0 when left out) and `max`. */
export interface StatementScore {
  scaled?: number | undefined;
  raw?: number | undefined;
  min?: number | undefined;
  max?: number | undefined;
}

/**
 * 0 to 100, to a tenth; below zero counts as zero.
 * @returns null when there is none, or nothing says how much could be reached.
 * @example `{ raw: 3, max: 4 }` is 75; `{ raw: 3 }` is nothing.
 */
export function scoreOf({ scaled, raw, min = 0, max }: StatementScore): number | null {
  const share = scaled ?? (raw === undefined || max === undefined || max <= min ? null : (raw - min) / (max - min));
  return share === null ? null : Math.round(Math.min(1, Math.max(0, share)) * 1000) / 10;
}

export interface StatementResult {
  completion?: boolean | undefined;
  success?: boolean | undefined;
  score?: StatementScore | undefined;
}

/** One try at an activity, as a statement tells of it. */
export interface ToldTry {
  finished: boolean;
  score: number | null;
}

/**
 * What a statement says of its activity.
 *
 * *completed* and *passed* finish it, unless they say that it is not completed; *failed* never does. *progressed* and *scored* finish it
 * only when they say so. *answered* is about one question: that somebody works, and neither finishes nor scores the activity.
 */
export function tryOf(verb: Exclude<StatementVerb, 'voided'>, { completion, score }: StatementResult = {}): ToldTry {
  const told = { finished: completion ?? false, score: score ? scoreOf(score) : null };
  switch (verb) {
    case 'completed':
    case 'passed':
      return { ...told, finished: completion ?? true };
    case 'failed':
      return { ...told, finished: false };
    case 'answered':
      return { finished: false, score: null };
    case 'progressed':
    case 'scored':
      return told;
  }
}

/** Seconds of an ISO 8601 duration; months and years are taken as 30 and 365 days. What is not said is 0. */
export function secondsOf(duration: string): number {
  const parts =
    /^P(?:(\d+(?:\.\d+)?)Y)?(?:(\d+(?:\.\d+)?)M)?(?:(\d+(?:\.\d+)?)W)?(?:(\d+(?:\.\d+)?)D)?(?:T(?:(\d+(?:\.\d+)?)H)?(?:(\d+(?:\.\d+)?)M)?(?:(\d+(?:\.\d+)?)S)?)?$/u.exec(
      duration,
    ) ?? [];
  const lengths = [365 * 86_400, 30 * 86_400, 7 * 86_400, 86_400, 3600, 60, 1];
  return lengths.reduce((sum, length, index) => sum + length * Number(parts[index + 1] ?? 0), 0);
}

type Json = unknown;
type JsonObject = Record<string, Json>;
/** Which parts of an object are plain: all of one (true), or parts of it again. */
type Plain = true | { [part: string]: Plain };

const isObject = (value: Json): value is JsonObject => typeof value === 'object' && value !== null && !Array.isArray(value);

const thing: Plain = { id: true, objectType: true, definition: { type: true, interactionType: true } };
/** Numbers, addresses of verbs and activities, and moments name nobody. Whatever is not listed may. */
const plainParts: Plain = {
  id: true,
  verb: { id: true },
  object: thing,
  result: { completion: true, success: true, duration: true, score: true },
  context: { registration: true, language: true },
  timestamp: true,
  version: true,
};

/** Parts a statement into what is plain and what may be personal (actor, free texts, names); `joinStatement` puts them together again. */
export function partStatement(statement: JsonObject): { plain: JsonObject; personal: JsonObject } {
  const [plain, personal] = partBy(statement, plainParts);
  return { plain: plain, personal: personal };
}

function partBy(value: JsonObject, keep: Plain): [JsonObject, JsonObject] {
  const [plain, rest]: [JsonObject, JsonObject] = [{}, {}];
  for (const [key, part] of Object.entries(value)) {
    const rule = keep === true ? true : (keep as Record<string, Plain>)[key];
    if (rule === true) plain[key] = part;
    else if (rule === undefined || !isObject(part)) rest[key] = part;
    else {
      const [a, b] = partBy(part, rule);
      plain[key] = a;
      if (Object.keys(b).length > 0) rest[key] = b;
    }
  }
  return [plain, rest];
}

/** @returns The statement as it was before it was parted. */
export function joinStatement(plain: JsonObject, personal: JsonObject): JsonObject {
  const joined = { ...plain };
  for (const [key, part] of Object.entries(personal)) {
    const other = joined[key];
    joined[key] = isObject(other) && isObject(part) ? joinStatement(other, part) : part;
  }
  return joined;
}

/** What does not make another statement of one that came before: who says so, when it was stored, and the id that they are compared under. */
const notCompared = ['id', 'stored', 'authority', 'version'];

/** One text for what is the same statement, in whatever order its parts were written. @param actor Who it is about, as the platform knows them. */
export function canonicalStatement(statement: JsonObject, actor: string): string {
  const compared = Object.fromEntries(Object.entries(statement).filter(([key]) => !notCompared.includes(key) && key !== 'actor'));
  return canonical({ ...compared, actor });
}

function canonical(value: Json): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join()}]`;
  if (!isObject(value)) return JSON.stringify(value) ?? 'null';
  const parts = Object.keys(value).sort();
  return `{${parts.map((key) => `${JSON.stringify(key)}:${canonical(value[key])}`).join()}}`;
}
