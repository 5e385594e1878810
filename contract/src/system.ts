import { z } from 'zod';
import { defineRoutes } from './route.ts';

export const liveTopics = ['people', 'access', 'progress', 'entry', 'groups', 'messages', 'session'] as const;
export type LiveTopic = (typeof liveTopics)[number];

export const systemRoutes = defineRoutes({
  health: {
    method: 'GET',
    path: '/api/health',
    room: 'system',
    who: 'anyone',
    summary: 'Does the server run, and does its database answer?',
    response: z.object({ ok: z.literal(true) }),
  },
  ready: {
    method: 'GET',
    path: '/api/ready',
    room: 'system',
    who: 'anyone',
    summary: 'May requests be sent here? 503 until the database is of this version, the day has turned and changes are listened for',
    response: z.object({ ready: z.literal(true) }),
  },
  live: {
    method: 'GET',
    path: '/api/v1/live',
    room: 'system',
    who: 'signed in',
    summary: 'Server-sent events: which topics changed in the own groups (never what)',
    response: 'events',
  },
});
