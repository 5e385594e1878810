import type { WorkStatement } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import type { Request, Response } from 'express';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { takeReports } from '../progress/take-reports.ts';
import { keptStatement } from './keep-statements.ts';
import { type NamedStatement, readStatements, type StatementReader } from './read-statements.ts';
import { ensureStatementMonth } from './statement-months.ts';
import { type StatementRequest, type StatementSource, xapiVersion } from './statement-source.ts';

/** xAPI 1.0.3, as far as it is spoken (docs/decisions/0018): statements are sent, taken back and read one by one. */
export function statementHandlers(deps: Deps): Handlers {
  const { db, settings, requestKey } = deps;

  async function take(request: Request, response: Response, list: readonly WorkStatement[]): Promise<string[]> {
    const source = sourceOf(request);
    const now = deps.now();
    const named = list.map((each): NamedStatement => ({ ...each, id: each.id?.toLowerCase() ?? randomUUID() }));
    const ids = named.map(({ id }) => id);
    const twice = ids.findIndex((id, place) => ids.indexOf(id) !== place);
    if (twice >= 0) throw new ProblemError('bad-request', { where: [{ place: `body.${twice}.id`, what: 'The same id twice' }] });
    const reader: StatementReader = { db, sourceId: source.id, sourceKey: source.key, publicUrl: settings.publicUrl, requestKey, now };
    const incoming = await readStatements(reader, named);
    await ensureStatementMonth(db, now);
    const { notOpen } = await takeReports(db, source.id, incoming, now);
    if (notOpen > 0) response.setHeader('X-Not-Counted', String(notOpen));
    return ids;
  }

  return {
    async statementsAbout() {
      return Promise.resolve({ version: [xapiVersion] });
    },

    sendStatements: ({ request, response, body }) => take(request, response, body),

    async putStatement({ request, response, body, query: { statementId } }) {
      if (body.id !== undefined && body.id.toLowerCase() !== statementId.toLowerCase())
        throw new ProblemError('bad-request', { where: [{ place: 'body.id', what: 'Another id than in the address' }] });
      await take(request, response, [{ ...body, id: statementId }]);
    },

    async readStatement({ request, response, query: { statementId, voidedStatementId } }) {
      const source = sourceOf(request);
      const id = statementId ?? voidedStatementId;
      if (id === undefined || (statementId !== undefined && voidedStatementId !== undefined))
        throw new ProblemError('bad-request', { where: [{ place: 'query', what: 'Either statementId or voidedStatementId' }] });
      response.setHeader('X-Experience-API-Consistent-Through', deps.now().toISOString());
      const { statement, receivedAt, isVoided } = found(await keptStatement(db, source.id, id.toLowerCase(), settings.publicUrl));
      if (isVoided !== (voidedStatementId !== undefined)) throw new ProblemError('not-found');
      response.setHeader('Last-Modified', new Date(receivedAt).toUTCString());
      const at = statement['timestamp'];
      return {
        ...(statement as { id: string; actor: Record<string, unknown>; verb: { id: string }; object: Record<string, unknown> }),
        timestamp: typeof at === 'string' ? new Date(at).toISOString() : receivedAt,
        stored: receivedAt,
        authority: { objectType: 'Agent', name: source.name, account: { homePage: settings.publicUrl, name: source.key } },
        version: xapiVersion,
      };
    },
  };
}

/** The source that statement-source.ts found. */
function sourceOf(request: StatementRequest): StatementSource {
  return found(request.statementSource);
}
