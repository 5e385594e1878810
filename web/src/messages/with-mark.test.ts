import { type Mark, withMark } from './with-mark.ts';

/** The part between the bars is selected: `a |b| c`. */
function marked(shown: string, mark: Mark): string {
  const [before = '', chosen = '', after = ''] = shown.split('|');
  const { text, from, to } = withMark(before + chosen + after, { from: before.length, to: before.length + chosen.length }, mark);
  return `${text.slice(0, from)}|${text.slice(from, to)}|${text.slice(to)}`;
}

test.each<[Mark, string, string]>([
  ['bold', 'a |b| c', 'a **|b|** c'],
  ['bold', 'a || c', 'a **||** c'],
  // One types the address after words that were chosen, and the words where none were.
  ['link', 'see |the plan| now', 'see [the plan](https://||) now'],
  ['link', 'see || now', 'see [||](https://) now'],
  ['list', 'one\ntw|o\nthree| or four', 'one\n- two\n- three|| or four'],
  ['list', '||first', '- ||first'],
  ['list', '|- first\nsecond|', '- first\n- second||'],
])('%s: %s becomes %s', (mark, shown, expected) => {
  expect(marked(shown, mark)).toBe(expected);
});
