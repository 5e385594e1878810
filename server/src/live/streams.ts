import { liveTopics, type LiveTopic } from '@gate-roster/contract';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { Response } from 'express';
import type { Logger } from 'pino';
import type { SignedIn } from '../accounts/actor.ts';
import { type Database, ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { type Listening, listenTo } from '../database/listen.ts';
import { type Announcement, channel } from './announce.ts';

/** What is announced is told after a moment, so that what belongs together goes together, and no browser is told more often than once a second. */
const settleMilliseconds = 150;
const betweenMilliseconds = 1000;
const toldTopics = liveTopics.filter((topic) => topic !== 'session');
const keepAliveMilliseconds = 20_000;
const retryMilliseconds = 1000;

interface Stream {
  response: Response;
  actor: SignedIn;
  /** Groups whose branches concern a leader; for a learner the groups they are in. */
  own: readonly number[];
  /** Groups that a learner has just left: told once more. */
  left: readonly number[];
}

/**
 * Passes what other processes and this one announce to the browsers that it concerns, at most a few times a second.
 * Numbers are per process: a browser that comes back with another number, or none, fetches anew.
 */
export class Streams {
  readonly #streams = new Set<Stream>();
  readonly #db: Database;
  readonly #url: string;
  readonly #log: Logger;
  #listening: Listening | null = null;
  #pending: Announcement[] = [];
  #timer: NodeJS.Timeout | null = null;
  #keepAlive: NodeJS.Timeout | null = null;
  #sequence = Date.now();
  #toldAt = 0;

  constructor(db: Database, url: string, log: Logger) {
    this.#db = db;
    this.#url = url;
    this.#log = log;
  }

  get size(): number {
    return this.#streams.size;
  }

  /** Is this process told of changes? */
  get isListening(): boolean {
    return this.#listening?.isHearing() ?? false;
  }

  async start(): Promise<void> {
    this.#keepAlive = setInterval(() => {
      for (const { response } of this.#streams) response.write(': still here\n\n');
    }, keepAliveMilliseconds);
    // After a break everybody is told to fetch again.
    this.#listening = listenTo(
      { url: this.#url, channel, log: this.#log },
      (text) => {
        this.#hear(JSON.parse(text) as Announcement);
      },
      () => {
        this.#tellAll();
      },
    );
    await this.#listening.begun;
  }

  async stop(): Promise<void> {
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#keepAlive) clearInterval(this.#keepAlive);
    for (const { response } of this.#streams) response.end();
    await this.#listening?.stop();
  }

  async add(actor: SignedIn, response: Response): Promise<void> {
    const own =
      actor.role === 'administrator'
        ? []
        : actor.leaderships.length > 0
          ? actor.leaderships.map(({ groupId }) => groupId)
          : await this.#groupsOf(actor.personId);
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    response.write(`retry: ${retryMilliseconds}\nid: ${this.#sequence}\nevent: hello\ndata: ${this.#sequence}\n\n`);
    const stream: Stream = { response, actor, own, left: [] };
    this.#streams.add(stream);
    response.on('close', () => this.#streams.delete(stream));
  }

  async #groupsOf(personId: number): Promise<number[]> {
    return (
      await this.#db
        .select({ id: tables.membership.groupId })
        .from(tables.membership)
        .where(and(eq(tables.membership.personId, personId), isNull(tables.membership.untilAt)))
    ).map(({ id }) => id);
  }

  #hear(announcement: Announcement): void {
    this.#pending.push(announcement);
    const wait = Math.max(settleMilliseconds, this.#toldAt + betweenMilliseconds - Date.now());
    this.#timer ??= setTimeout(() => {
      this.#timer = null;
      this.#toldAt = Date.now();
      const heard = this.#pending.splice(0);
      this.#flush(heard).catch((error: unknown) => {
        this.#log.warn({ err: error }, 'announcements could not be passed on');
      });
    }, wait);
  }

  async #flush(heard: readonly Announcement[]): Promise<void> {
    this.#sequence++;
    if (heard.some(({ topics }) => topics.includes('people'))) await this.#refreshLearners();
    const related = await this.#related([...new Set(heard.flatMap(({ groups }) => groups))]);
    for (const stream of [...this.#streams]) {
      if (heard.some(({ topics, personId }) => topics.includes('session') && personId === stream.actor.personId)) {
        stream.response.end();
        continue;
      }
      const topics = new Set(
        heard.filter((announcement) => concerns(announcement, stream, related)).flatMap((announcement) => announcement.topics),
      );
      stream.left = [];
      this.#send(
        stream,
        toldTopics.filter((topic) => topics.has(topic)),
      );
    }
  }

  /** Learners who joined or left groups: this time they are told of both, from then on of those they are in. */
  async #refreshLearners(): Promise<void> {
    const learners = [...this.#streams].filter(({ actor }) => actor.role !== 'administrator' && actor.leaderships.length === 0);
    if (learners.length === 0) return;
    const held = await this.#db
      .select({ person_id: tables.membership.personId, group_id: tables.membership.groupId })
      .from(tables.membership)
      .where(
        and(
          isNull(tables.membership.untilAt),
          isAmong(
            tables.membership.personId,
            learners.map(({ actor }) => actor.personId),
          ),
        ),
      );
    for (const stream of learners) {
      const now = held.filter(({ person_id }) => person_id === stream.actor.personId).map(({ group_id }) => group_id);
      stream.left = stream.own.filter((id) => !now.includes(id));
      stream.own = now;
    }
  }

  #tellAll(): void {
    this.#sequence++;
    for (const stream of this.#streams) this.#send(stream, toldTopics);
  }

  #send(stream: Stream, topics: readonly LiveTopic[]): void {
    if (topics.length > 0) stream.response.write(`id: ${this.#sequence}\nevent: changed\ndata: ${topics.join(' ')}\n\n`);
  }

  /** Each announced group with all above and below it. */
  async #related(groups: readonly number[]): Promise<Map<number, Set<number>>> {
    const found = await rows<{ a: number; b: number }>(
      this.#db,
      sql`
      select group_id as a, ancestor_id as b from group_branch where group_id = any(${ids(groups)})
      union select ancestor_id, group_id from group_branch where ancestor_id = any(${ids(groups)})`,
    );
    const related = new Map<number, Set<number>>(groups.map((group) => [group, new Set()]));
    for (const { a, b } of found) related.get(a)?.add(b);
    return related;
  }
}

function concerns(announcement: Announcement, { actor, own, left }: Stream, related: ReadonlyMap<number, ReadonlySet<number>>): boolean {
  if (actor.role === 'administrator') return true;
  // Another learner's work is not this learner's business.
  if (actor.leaderships.length === 0 && announcement.topics.includes('progress') && !announcement.topics.includes('access'))
    return announcement.personId === actor.personId;
  return announcement.groups.some((group) => [...own, ...left].some((top) => related.get(group)?.has(top)));
}
