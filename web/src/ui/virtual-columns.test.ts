import { columnsWithin, pixelsDrawn } from './virtual-columns.ts';

const widths = [74, 20, 74, 74, 74];

test('the columns of a span are those that touch it, with what lies before them', () => {
  expect(columnsWithin(widths, -300, 1000)).toEqual({ from: 0, to: 5, before: 0 });
  expect(columnsWithin(widths, 74, 168)).toEqual({ from: 1, to: 3, before: 74 });
  expect(columnsWithin(widths, 80, 100)).toEqual({ from: 1, to: 3, before: 74 });
  expect(columnsWithin(widths, 250, 2000)).toEqual({ from: 4, to: 5, before: 242 });
  expect(columnsWithin([], 0, 100)).toEqual({ from: 0, to: 0, before: 0 });
});

test('whatever the span, what is before, drawn and after adds up to the whole', () => {
  const whole = widths.reduce((all, each) => all + each, 0);
  for (let left = -400; left < 800; left += 13) {
    const { from, to, before } = columnsWithin(widths, left, left + 150);
    const drawn = widths.slice(from, to).reduce((all, each) => all + each, 0);
    const after = widths.slice(to).reduce((all, each) => all + each, 0);
    expect([left, before + drawn + after]).toEqual([left, whole]);
  }
});

test('what is in sight is drawn wherever one scrolls to, and most steps on the way draw nothing new', () => {
  const drawn = Array.from({ length: 100 }, (_, frame) => ({ at: frame * 60, ...pixelsDrawn(frame * 60, 900) }));
  for (const { at, left, right } of drawn) expect([at, left < at, right > at + 900]).toEqual([at, true, true]);
  expect(new Set(drawn.map(({ left }) => left)).size).toBeLessThan(drawn.length / 4);
});
