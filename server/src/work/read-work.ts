import type { WorkVersion } from '@gate-roster/contract';
import { type HandIn, isPassed } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, iso, type Queryable, rows } from '../database/connect.ts';
import { fileKey } from './files.ts';

/* Versions of work as they are read, by learners and markers. */

interface Reader {
  secret: string;
  now: Date;
  /** Who reads: the claim of another marker is shown, the reader's own is not. */
  personId: number;
}

export type GivenMark = NonNullable<WorkVersion['mark']>;

interface MarkRow extends Omit<GivenMark, 'passed'> {
  versionId: number;
  stands: boolean;
}

/** Versions of a piece, oldest first, with their files and marks. `corrected`: marks that others followed, oldest first. */
export async function versionsOf(
  db: Queryable,
  workIds: readonly number[],
  handIns: ReadonlyMap<number, HandIn>,
  { secret, now, personId }: Reader,
): Promise<Map<number, { versions: WorkVersion[]; corrected: (GivenMark & { versionId: number })[] }>> {
  const found = await rows<
    Omit<WorkVersion, 'files' | 'mark'> & { workId: number; files: Omit<WorkVersion['files'][number], 'address'>[] }
  >(
    db,
    sql`
    select v.id, v.work_id as "workId", v.number, v.state, v.words, v.link, to_jsonb(v.skill_ids) as "skillIds", v.handed_in_at as "handedInAt", v.is_late as "isLate",
      exists (select 1 from work_claim c where c.version_id = v.id and c.until_at > ${now.toISOString()} and c.person_id <> ${personId}) as "isTaken",
      coalesce((select jsonb_agg(jsonb_build_object('id', f.id, 'fileName', f.file_name, 'mimeType', f.mime_type, 'size', f.size) order by f.id) from work_file f where f.version_id = v.id), '[]') as files
    from work_version v where v.work_id = any(${ids(workIds)}) order by v.work_id, v.number`,
  );
  const marks = await rows<MarkRow>(
    db,
    sql`
    select m.row_id as id, m.version_id as "versionId", m.verdict, m.score, to_jsonb(m.points) as points, to_jsonb(m.skill_ids) as "skillIds", m.comment, m.marked_at as at,
      coalesce(n.given_name || ' ' || n.family_name, '') as by, m.until_at is null as stands
    from work_version v join mark m on m.version_id = v.id left join personal_now n on n.person_id = m.marked_by
    where v.work_id = any(${ids(workIds)}) order by m.row_id`,
  );
  const read = ({ stands: _, versionId: __, at, ...mark }: MarkRow, handIn: HandIn | undefined): GivenMark => ({
    ...mark,
    at: iso(at),
    passed: mark.score === null || !handIn ? null : isPassed(mark.score, handIn),
  });
  const pieces = new Map<number, { versions: WorkVersion[]; corrected: (GivenMark & { versionId: number })[] }>();
  for (const { workId, files, ...version } of found) {
    const piece = pieces.get(workId) ?? { versions: [], corrected: [] };
    pieces.set(workId, piece);
    const ofVersion = marks.filter(({ versionId }) => versionId === version.id);
    const current = ofVersion.find(({ stands }) => stands);
    piece.versions.push({
      ...version,
      handedInAt: version.handedInAt && iso(version.handedInAt),
      files: files.map((file) => ({ ...file, address: `/api/v1/work-files/${fileKey(secret, file.id, now)}` })),
      mark: current ? read(current, handIns.get(workId)) : null,
    });
    for (const each of ofVersion) if (!each.stands) piece.corrected.push({ ...read(each, handIns.get(workId)), versionId: version.id });
  }
  return pieces;
}

/** Skills by their numbers, also those that are no longer offered. */
export const skillNames = (db: Queryable, skillIds: Iterable<number>): Promise<{ id: number; name: string }[]> =>
  rows(
    db,
    sql`select distinct on (skill_id) skill_id as id, name from skill_version where skill_id = any(${ids(skillIds)}) order by skill_id, row_id desc`,
  );
