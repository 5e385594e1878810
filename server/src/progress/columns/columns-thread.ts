import { workerData } from 'node:worker_threads';
import { connect } from '../../database/connect.ts';
import { answerQuestions } from '../../threads/thread.ts';
import { ReportColumns } from './report-columns.ts';
import type { ColumnQuestion } from './questions.ts';

/* The thread that keeps columns of enrolments. */

const { db } = connect((workerData as { databaseUrl: string }).databaseUrl, { most: 2 });
const columns = new ReportColumns(db);
answerQuestions((question) => columns.answer(question as ColumnQuestion));
