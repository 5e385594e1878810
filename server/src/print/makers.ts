import { drawCertificates } from '../certificates/certificate-file.ts';
import { cardFile } from '../entry/card-file.ts';
import { csvOf, workbookOf } from '../http/table.ts';
import { progressPaper } from '../progress/report-paper.ts';

/** Files whose making takes seconds when they are large; what they are made of can be sent to another thread. */
export const makers = { cards: cardFile, certificates: drawCertificates, csv: csvOf, report: progressPaper, workbook: workbookOf };

export type MakerName = keyof typeof makers;
export interface Making<N extends MakerName = MakerName> {
  name: N;
  of: Parameters<(typeof makers)[N]>;
}
