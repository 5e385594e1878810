/** What a leader may do in the branch of a group. */
export const powers = [
  'seeProgress',
  'helpSignIn',
  'decideEntry',
  'managePeople',
  'shapeGroups',
  'appointLeaders',
  'openCourses',
  'handOutSeats',
  'orderSeats',
  'markWork',
  'writeMessages',
  'export',
  'shareOutside',
] as const;
export type Power = (typeof powers)[number];

export const presets = {
  head: powers,
  helper: ['seeProgress', 'helpSignIn', 'decideEntry'],
} as const satisfies Record<string, readonly Power[]>;
