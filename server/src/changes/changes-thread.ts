import { workerData } from 'node:worker_threads';
import { connect } from '../database/connect.ts';
import type { Settings } from '../http/deps.ts';
import { asProblem } from '../http/problem.ts';
import { answerQuestions } from '../threads/thread.ts';
import { applyChange, lookAtChange } from './apply.ts';
import type { ChangeAnswer, ChangeQuestion } from './large-changes.ts';
import { lockWait } from './roster-lock.ts';

/* The thread in which large changes are looked at and applied. */

const mostConnections = 6;
const settings = workerData as Settings;
const { db } = connect(settings.databaseUrl, { most: mostConnections });

answerQuestions((asked) => {
  const question = asked as ChangeQuestion;
  const wait = { milliseconds: 0 };
  return lockWait.run(wait, async (): Promise<ChangeAnswer> => {
    const waited = (): number | null => (question.name === 'apply' ? wait.milliseconds : null);
    try {
      const answer =
        question.name === 'look'
          ? await lookAtChange(db, question.actor, question.change, settings.publicUrl)
          : await applyChange({ db, settings, now: () => new Date() }, question.actorId, question.change, question);
      return { answer, waited: waited() };
    } catch (error) {
      const problem = asProblem(error);
      // What has no name goes to the thread that asked, which writes it to the log.
      if (problem.code === 'failed') throw error;
      return { problem: problem.toJson(), waited: waited() };
    }
  });
});
