/* What the stand-in for a course platform offers: its own numbers, titles, units and activities. */

interface Offered {
  id: string;
  title: string;
  code: string;
  subject: string;
  description: string;
  units: { id: string; title: string; activities: { id: string; title: string; scored: boolean }[] }[];
}

/** Units with notes to read and an exercise each, as all its courses have them. */
const course = (
  id: string,
  title: string,
  subject: string,
  description: string,
  units: readonly (readonly [number, string])[],
): Offered => ({
  id,
  title,
  code: id.toUpperCase(),
  subject,
  description,
  units: units.map(([number, unit]) => ({
    id: `${id}/${number}`,
    title: unit,
    activities: [
      { id: `${id}/${number}/1`, title: `${unit}: crew notes`, scored: false },
      { id: `${id}/${number}/2`, title: `${unit}: exercise`, scored: true },
    ],
  })),
});

export const offeredCourses: readonly Offered[] = [
  course('vhf-1', 'VHF radio', 'Radio', 'Speaking on the radio so that everybody understands the first time.', [
    [1, 'The set'],
    [2, 'Calling'],
    [3, 'Distress and urgency'],
    [4, 'Practice'],
    [5, 'Calling a group'],
  ]),
  course('twr-1', 'Tower lookout', 'Watch', 'Keeping watch from the tower.', [
    [1, 'The watch'],
    [2, 'Glasses and log'],
    [3, 'Raising the alarm'],
  ]),
  course('rope-1', 'Rope rescue', 'Land', 'Bringing somebody up a cliff, and yourself after them.', [
    [1, 'Anchors'],
    [2, 'Lowering'],
    [3, 'Raising'],
  ]),
  course('tide-1', 'Reading the tide', 'Water', 'What the water will do in the next six hours.', [
    [1, 'Tables'],
    [2, 'Streams'],
  ]),
];
