import { problem, routes, type Route } from '@gate-roster/contract';
import { addTo } from '@gate-roster/core';
import { z } from 'zod';
import { createDocument, type ZodOpenApiPathsObject } from 'zod-openapi';

let document: object | null = null;

/** The OpenAPI 3.1 document, generated from the route table when it is first asked for: that takes a second. */
export const openApi = (): object => (document ??= generate());

function generate(): object {
  const paths: ZodOpenApiPathsObject = {};
  for (const [name, route] of Object.entries(routes) as [string, Route][]) {
    const at = route.path.replace(/:(\w+)/gu, '{$1}');
    const method = route.method.toLowerCase() as 'get';
    paths[at] = {
      ...paths[at],
      [method]: {
        operationId: name,
        summary: route.summary,
        tags: [route.room],
        'x-who': route.who,
        requestParams: {
          ...(route.params ? { path: route.params } : {}),
          ...(route.query ? { query: route.query } : {}),
          ...(route.once ? { header: z.object({ 'Idempotency-Key': z.uuid().optional() }) } : {}),
        },
        ...(route.body ? { requestBody: { content: { 'application/json': { schema: route.body } } } } : {}),
        responses: {
          ...answerOf(route),
          default: { description: 'A problem, RFC 9457', content: { 'application/problem+json': { schema: problem } } },
        },
      },
    };
  }
  return createDocument({ openapi: '3.1.0', info: { title: 'Gate Roster', version: '1' }, paths });
}

function answerOf(route: Route): object {
  const { response } = route;
  if (response === 'nothing') return { 204: { description: 'Done' } };
  if (response === 'csv') return { 200: { description: 'A CSV file', content: { 'text/csv': { schema: { type: 'string' } } } } };
  if (response === 'calendar')
    return { 200: { description: 'A calendar, RFC 5545', content: { 'text/calendar': { schema: { type: 'string' } } } } };
  if (response === 'file')
    return { 200: { description: 'A file', content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } } };
  if (response === 'events')
    return { 200: { description: 'Server-sent events', content: { 'text/event-stream': { schema: { type: 'string' } } } } };
  return { 200: { description: 'The answer', content: { 'application/json': { schema: response } } } };
}

const escape = (text: string): string => text.replace(/[&<>"]/gu, (letter) => `&#${letter.charCodeAt(0)};`);

/** A page to read the contract on, made from the same table. */
export function openApiPage(): string {
  const byRoom = new Map<string, [string, Route][]>();
  for (const each of Object.entries(routes) as [string, Route][]) addTo(byRoom, each[1].room, each);
  const { paths } = openApi() as { paths: Record<string, Record<string, object>> };
  const part = ([name, route]: [string, Route]): string => {
    const shape = paths[route.path.replace(/:(\w+)/gu, '{$1}')]?.[route.method.toLowerCase()];
    return `<details id="${name}"><summary><b>${route.method}</b> <code>${escape(route.path)}</code> ${escape(route.summary)} <i>(${route.who})</i></summary><pre>${escape(JSON.stringify(shape, null, 1))}</pre></details>`;
  };
  const rooms = [...byRoom].map(([room, list]) => `<h2>${room}</h2>${list.map(part).join('')}`).join('');
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="color-scheme" content="light dark"><title>Gate Roster: the contract</title></head>
<body><h1>Gate Roster: the contract</h1><p>The same as a document: <a href="/api/openapi.json">/api/openapi.json</a> (OpenAPI 3.1). Failures are <code>application/problem+json</code>.</p>${rooms}</body></html>`;
}
