import type { JoinCodeValues } from '@gate-roster/contract';

/** A join code that opens nothing yet, asks for nothing and has no end: its user says what is different. */
export const plainCode: JoinCodeValues = {
  groupIds: [],
  chosen: null,
  note: null,
  tags: [],
  powers: null,
  firstAt: null,
  lastAt: null,
  useLimit: null,
  emailEnding: null,
  needsDecision: false,
  paused: false,
  asks: { email: 'no', idNumber: 'no', questions: [] },
};
