import type { z } from 'zod';

/** Who may call a route at all; which groups and people they reach is decided within. */
export type Caller = 'anyone' | 'signed in' | 'leader' | 'administrator' | 'source';

export interface Route {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  /** As Express writes it: `/api/v1/groups/:groupId`. */
  path: string;
  room: string;
  summary: string;
  who: Caller;
  /** Sent again with the same Idempotency-Key it takes place once, and the first answer comes again; that answer holds no secret. */
  once?: true;
  params?: z.ZodObject;
  query?: z.ZodObject;
  body?: z.ZodType;
  /** What comes back: JSON of this shape, nothing, a CSV file, a calendar or another file, or a stream of events. */
  response: z.ZodType | 'nothing' | 'csv' | 'calendar' | 'file' | 'events';
}

type Parsed<T> = T extends z.ZodType ? z.output<T> : undefined;
type Sent<T> = T extends z.ZodType ? z.input<T> : undefined;

/** What a handler on the server gets, after parsing. */
export interface Received<R extends Route> {
  params: Parsed<R['params']>;
  query: Parsed<R['query']>;
  body: Parsed<R['body']>;
}

/** What a caller gives. */
export type Given<R extends Route> = (R['params'] extends z.ZodType ? { params: Sent<R['params']> } : object) &
  (R['query'] extends z.ZodType ? { query?: Sent<R['query']> } : object) &
  (R['body'] extends z.ZodType ? { body: Sent<R['body']> } : object);

export type Answer<R extends Route> = R['response'] extends z.ZodType
  ? z.output<R['response']>
  : R['response'] extends 'csv' | 'calendar'
    ? string
    : R['response'] extends 'file'
      ? SentFile
      : undefined;

/** A file as it goes out; only pictures are shown in place, all else is saved. */
export interface SentFile {
  fileName: string;
  mimeType: string;
  isPicture: boolean;
  content: Uint8Array;
}

export const defineRoutes = <T extends Record<string, Route>>(routes: T): T => routes;
