import fc from 'fast-check';
import { givenProblems, type JoinAsks } from './join-questions.ts';
import { chosenCodeProblem, fitsEnding, joinCodeAlphabet, joinCodeKey, joinCodeState, makeJoinCode, showJoinCode } from './join-code.ts';
import { readAddresses } from './read-addresses.ts';

const terms = { paused: false, firstAt: null, lastAt: null, useLimit: null, uses: 0 };
const noon = new Date('2026-11-25T12:00:00Z');

describe('a join code', () => {
  it('is typed in any case, with or without its dash, and holds no look-alikes', () => {
    fc.assert(
      fc.property(fc.infiniteStream(fc.nat(1000)), (numbers) => {
        const code = makeJoinCode((limit) => (numbers.next().value ?? 0) % limit);
        const shown = showJoinCode(code, false);
        return (
          /^[ACDEFGHJKMNPQRTUVWXY34679]{5}-[ACDEFGHJKMNPQRTUVWXY34679]{5}$/u.test(shown) &&
          [shown, shown.toLowerCase(), code, ` ${code.slice(0, 3)} ${code.slice(3)}`].every((typed) => joinCodeKey(typed) === code)
        );
      }),
    );
    expect(joinCodeAlphabet).not.toMatch(/[0OIL15S8B2Z]/u);
  });

  it('that is chosen folds look-alikes, and needs a limit and an end', () => {
    const bounded = { useLimit: 30, lastAt: '2026-12-01T00:00:00Z' };
    expect(joinCodeKey('Spring Crew 20')).toBe(joinCodeKey('5PRING-CREW-ZO'));
    expect(chosenCodeProblem('crew 20', bounded)).toBe('too short');
    expect(chosenCodeProblem('springcrew', bounded)).toBeNull();
    expect(chosenCodeProblem('springcrew', { ...bounded, useLimit: null })).toBe('needs a limit');
    expect(chosenCodeProblem('springcrew', { ...bounded, lastAt: null })).toBe('needs an end');
    expect(chosenCodeProblem('frühling20', bounded)).toBe('letters only');
    expect(chosenCodeProblem('a'.repeat(31), bounded)).toBe('too long');
  });

  it('is open between its moments, up to its limit, unless it is paused', () => {
    expect(joinCodeState(terms, noon)).toBe('open');
    expect(joinCodeState({ ...terms, paused: true }, noon)).toBe('paused');
    expect(joinCodeState({ ...terms, firstAt: '2026-11-25T12:00:01Z' }, noon)).toBe('not yet');
    expect(joinCodeState({ ...terms, lastAt: '2026-11-25T11:59:59Z' }, noon)).toBe('ended');
    expect(joinCodeState({ ...terms, lastAt: noon.toISOString() }, noon)).toBe('open');
    expect(joinCodeState({ ...terms, useLimit: 2, uses: 1 }, noon)).toBe('open');
    expect(joinCodeState({ ...terms, useLimit: 2, uses: 2 }, noon)).toBe('full');
  });

  it('takes addresses of its ending, and of nothing that only looks like it', () => {
    expect(fitsEnding('ada@brannoch.example', '@Brannoch.example')).toBe(true);
    expect(fitsEnding('ada@crew.brannoch.example', 'brannoch.example')).toBe(true);
    expect(fitsEnding('ada@evilbrannoch.example', 'brannoch.example')).toBe(false);
    expect(fitsEnding('ada', 'brannoch.example')).toBe(false);
  });
});

describe('what a joiner gave', () => {
  const asks: JoinAsks = {
    email: 'must',
    idNumber: 'may',
    questions: [
      { key: 'q1', label: 'Boat', kind: 'choice', choices: ['Skua', 'Tern'], required: true },
      { key: 'q2', label: 'Since', kind: 'date', choices: [], required: false },
    ],
  };
  const given = { givenName: 'Ada', familyName: '', email: 'ada@x.example', idNumber: '', answers: { q1: 'Skua', q2: '2026-02-28' } };

  it('has nothing wrong when all that is asked is there', () => {
    expect(givenProblems(asks, given, false)).toEqual([]);
  });
  it('is told each field that is wrong', () => {
    expect(givenProblems(asks, { ...given, givenName: ' ', email: 'ada@x', answers: { q1: 'Gull', q2: '2026-02-31' } }, false)).toEqual([
      { field: 'givenName', code: 'missing' },
      { field: 'email', code: 'email', problem: 'no ending' },
      { field: 'q1', code: 'not a choice' },
      { field: 'q2', code: 'not a day' },
    ]);
  });
  it('is only the answers for somebody who is known', () => {
    expect(givenProblems(asks, { ...given, givenName: '', email: '', answers: {} }, true)).toEqual([{ field: 'q1', code: 'missing' }]);
  });
});

describe('pasted addresses', () => {
  it('are read in any form people have them', () => {
    const text =
      'Lind, Ada <ada@x.example>, bo@x.example; Cy Moe <cy@x.example>\nBO@x.example\n\tdee@x.example\tDee\nnobody here\ne@x.example f@x.example';
    const read = readAddresses(text);
    expect(read.people.map(({ givenName, familyName, email }) => `${givenName}|${familyName}|${email}`)).toEqual([
      'Ada|Lind|ada@x.example',
      '||bo@x.example',
      'Cy|Moe|cy@x.example',
      '|Dee|dee@x.example',
      '||e@x.example',
      '||f@x.example',
    ]);
    expect(read.repeated).toBe(1);
    expect(read.problems).toEqual([{ text: 'nobody here', problem: 'no at' }]);
  });
});
