import type { FileName, SentFile } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { Response } from 'express';
import type { SignedIn } from '../accounts/actor.ts';
import { maybeRow } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found } from '../http/problem.ts';
import { queueFile } from '../jobs/make-files.ts';
import { jsonOf, type Taking, takenFiles } from './taken-files.ts';

/** Views of progress as files: at once, or as a job where they are long. */
export function takeAwayHandlers(deps: Deps): Handlers {
  const { db } = deps;
  const csvRoute =
    (name: 'progressFile' | 'progressLearnersFile' | 'progressInsideFile') =>
    async (call: { actor: SignedIn; params: { groupId: number }; query: unknown; response: Response }): Promise<string> => {
      const { fileName, content } = await takenFile(deps, name, call);
      call.response.setHeader('Content-Disposition', `attachment; filename="${fileName}"`);
      return Buffer.from(content).toString();
    };

  return {
    progressFile: csvRoute('progressFile'),
    progressLearnersFile: csvRoute('progressLearnersFile'),
    progressInsideFile: csvRoute('progressInsideFile'),
    progressWorkbook: (call) => takenFile(deps, 'progressWorkbook', call),
    progressPdf: (call) => takenFile(deps, 'progressPdf', call),

    async progressJson({ actor, params: { groupId }, query, response }) {
      const { fileName, answer } = await jsonOf({ deps, actor, groupId }, query);
      response.setHeader('Content-Disposition', `attachment; filename="${fileName}"`);
      return answer;
    },

    async startFile({ actor, params: { groupId }, body: { file, query, requestId } }) {
      await pathTo(db, actor, groupId, 'export');
      return { jobId: await queueFile(deps, actor, { file, groupId, query }, requestId) };
    },

    async madeFile({ actor, params: { jobId } }) {
      const { group_id, fileName, mimeType, content } = found(
        await maybeRow<{ group_id: number; fileName: string; mimeType: string; content: Buffer }>(
          db,
          sql`
          select (j.given ->> 'groupId')::bigint as group_id, f.file_name as "fileName", f.mime_type as "mimeType", f.content
          from made_file f join job j on j.id = f.job_id where f.job_id = ${jobId} and j.made_by = ${actor.personId}`,
        ),
      );
      // Who may not take it away any more does not get what was made while they might.
      await pathTo(db, actor, group_id, 'export');
      await pathTo(db, actor, group_id, 'seeProgress');
      return { fileName, mimeType, isPicture: false, content };
    },
  };
}

const takenFile = (
  deps: Deps,
  name: FileName,
  { actor, params: { groupId }, query }: { actor: SignedIn; params: { groupId: number }; query: unknown },
): Promise<SentFile> => (takenFiles[name] as (taking: Taking, asked: unknown) => Promise<SentFile>)({ deps, actor, groupId }, query);
