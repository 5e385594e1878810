import { plainCertificate } from './outside-changes.ts';
import { courseOf, type Maker } from './random-course-change.ts';

type WorkKind = 'mark-work' | 'set-skills' | 'set-certificate' | 'end-certificate' | 'give-certificates' | 'withdraw-certificates';

/** Samples of the kinds that mark work and give certificates. */
export const workMakers: { [K in WorkKind]: Maker<K>[] } = {
  'mark-work': [
    (pick, w, n) => {
      const piece = w.pieces[n % w.pieces.length];
      const isMarked = n % 3 > 0;
      const mark = { versionId: piece?.version ?? 0, points: null, skillIds: [], comment: `Mark ${n}`, corrects: piece?.mark ?? null };
      return {
        kind: 'mark-work',
        marks: [{ ...mark, ...(isMarked ? { verdict: 'marked', score: n % 21 } : { verdict: 'sent back', score: null }) }],
      };
    },
    // A correction of one that made somebody done, or did not.
    (pick, w, n) => {
      const marked = w.pieces.filter(({ mark }) => mark !== null);
      const piece = marked[n % marked.length];
      const score = n % 2 ? 20 : 3;
      const mark = { versionId: piece?.version ?? 0, points: null, skillIds: [], comment: '', corrects: piece?.mark ?? null };
      return { kind: 'mark-work', marks: [{ ...mark, verdict: 'marked', score }] };
    },
  ],
  'set-certificate': [
    (pick, w, n) => ({
      kind: 'set-certificate',
      formId: n % 3 === 0 ? pick(w.forms) : null,
      groupId: pick(w.groups),
      values: { ...plainCertificate, courseId: n % 4 === 0 ? null : courseOf(w, n).id, title: `Certificate ${n}` },
    }),
  ],
  'end-certificate': [(pick, w) => ({ kind: 'end-certificate', formId: pick(w.forms) })],
  'give-certificates': [
    (pick, w, n) => ({ kind: 'give-certificates', formId: pick(w.forms), personIds: w.people.slice(n % 50, (n % 50) + 40) }),
  ],
  'withdraw-certificates': [
    (_, w, n) => ({ kind: 'withdraw-certificates', numbers: [w.certificates[n % w.certificates.length] ?? ''], replace: n % 2 === 0 }),
  ],
  'set-skills': [
    (pick, w, n) => ({ kind: 'set-skills', courseId: n % 2 ? courseOf(w, n).id : null, skills: [{ id: null, name: `Skill ${n % 7}` }] }),
  ],
};
