import fc from 'fast-check';
import { coursesOfOutline } from '../courses/read-courses.ts';
import { readPerson, readWho } from '../entry/read-people.ts';
import { readOutline, splitLedBy } from './read-outline.ts';

const shape = (text: string): string[] =>
  readOutline(text).map(({ text: line, within, depth }) => `${depth} ${line} in ${within ?? 'top'}`);

describe('readOutline', () => {
  it('nests by spaces, tabs or both, and leaves list marks off', () => {
    expect(shape('Gullhaven\n  Inshore crew\n    A watch\n\tCadets\n\nPenmarrow')).toEqual([
      '0 Gullhaven in top',
      '1 Inshore crew in 0',
      '2 A watch in 1',
      '2 Cadets in 1',
      '0 Penmarrow in top',
    ]);
    expect(shape('- Boats\n  • Ribs\n  – Sails')).toEqual(['0 Boats in top', '1 Ribs in 0', '1 Sails in 0']);
  });

  it('gives a line that is indented less the nearest parent that is less indented', () => {
    expect(shape('A\n      B\n   C\n D')).toEqual(['0 A in top', '1 B in 0', '1 C in 0', '1 D in 0']);
  });

  it('whatever is pasted, every line stands once and within an earlier one', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(12), fc.string({ minLength: 1 }))), (lines) => {
        const read = readOutline(lines.map(([indent, text]) => ' '.repeat(indent) + text).join('\n'));
        read.forEach(({ within, depth }, index) => {
          expect(within === null || within < index).toBe(true);
          expect(depth).toBe(within === null ? 0 : (read[within]?.depth ?? -9) + 1);
        });
      }),
    );
  });

  it('64 levels are 64 levels', () => {
    const text = Array.from({ length: 64 }, (_, depth) => `${' '.repeat(depth)}Level ${depth}`).join('\n');
    expect(readOutline(text).at(-1)).toMatchObject({ depth: 63, within: 62 });
  });
});

test('a line says who leads', () => {
  expect(splitLedBy('Tower watch led by Ada Lind ada@x.example, bao')).toEqual({
    name: 'Tower watch',
    leaders: ['Ada Lind ada@x.example', 'bao'],
  });
  expect(splitLedBy('Ledbury')).toEqual({ name: 'Ledbury', leaders: [] });
});

test('a person is read from what people paste', () => {
  expect(readPerson('Hana Petrossian <hana@brannoch.example>')).toEqual({
    givenName: 'Hana',
    familyName: 'Petrossian',
    email: 'hana@brannoch.example',
  });
  expect(readPerson('Petrossian, Hana; hana@brannoch.example')).toEqual({
    givenName: 'Hana',
    familyName: 'Petrossian',
    email: 'hana@brannoch.example',
  });
  expect(readPerson('Bao Li')).toEqual({ givenName: 'Bao', familyName: 'Li', email: '' });
  expect(readWho('ottoline')).toEqual({ givenName: '', familyName: '', email: 'ottoline' });
});

test('courses get a unit and an activity where none is written', () => {
  expect(coursesOfOutline('Ropes\n  Knots\n    Read\n    Tie\nRadio')).toEqual([
    { name: 'Ropes', units: [{ name: 'Knots', activities: ['Read', 'Tie'] }] },
    { name: 'Radio', units: [{ name: 'Radio', activities: ['Radio'] }] },
  ]);
});
