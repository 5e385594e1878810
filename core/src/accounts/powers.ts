/** What a leader may do in the branch of a group. */
export const powers = [
  'seeProgress',
  'helpSignIn',
  'decideEntry',
  'managePeople',
  'shapeGroups',
  'appointLeaders',
  'openCourses',
  'makeCourses',
  'handOutSeats',
  'orderSeats',
  'markWork',
  'writeMessages',
  'export',
] as const;
export type Power = (typeof powers)[number];

export const presets = {
  head: powers,
  helper: ['seeProgress', 'helpSignIn', 'decideEntry'],
  /** Sees everything of the branch and its log, changes nothing; until a day. */
  auditor: ['seeProgress', 'export'],
} as const satisfies Record<string, readonly Power[]>;
export type Preset = keyof typeof presets;

/** The preset that gives exactly these powers; null for a mix of one's own. */
export function presetOf(held: readonly Power[]): Preset | null {
  const same = (wanted: readonly Power[]): boolean => wanted.length === held.length && wanted.every((power) => held.includes(power));
  return (Object.keys(presets) as Preset[]).find((name) => same(presets[name])) ?? null;
}
