import { cleanCell } from '@gate-roster/core';

/** A line of a file of scores. */
export interface ScoreLine {
  versionId: number;
  score: number;
  comment: string;
}

const headers = { piece: /^piece$/iu, score: /^(score|points|mark)$/iu, comment: /^(a word|word|comment)$/iu };

/**
 * Reads scores by the number of the piece; lines without a score are passed over.
 * @returns Null when the columns *piece* and *score* are not both there.
 */
export async function readScores(text: string): Promise<ScoreLine[] | null> {
  const { default: Papa } = await import('papaparse');
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/u, ''), { skipEmptyLines: 'greedy' });
  const [head = [], ...lines] = data;
  const at = (wanted: RegExp): number => head.findIndex((cell) => wanted.test(cleanCell(cell)));
  const [piece, score, comment] = [at(headers.piece), at(headers.score), at(headers.comment)];
  if (piece < 0 || score < 0) return null;
  return lines.flatMap((line) => {
    const typed = cleanCell(line[score] ?? '').replace(',', '.');
    const versionId = Number(cleanCell(line[piece] ?? ''));
    if (typed === '' || !Number.isFinite(Number(typed)) || Number(typed) < 0 || !Number.isSafeInteger(versionId) || versionId < 1)
      return [];
    return [{ versionId, score: Number(typed), comment: cleanCell(line[comment] ?? '') }];
  });
}
