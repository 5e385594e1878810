import { answerQuestions } from '../threads/thread.ts';
import { makers, type Making } from './makers.ts';

/* The thread that makes files. */

answerQuestions((question) => {
  const { name, of } = question as Making;
  return (makers[name] as (...of: unknown[]) => unknown)(...of);
});
