/** By name; the interface gives each its shade in both themes. */
export const groupColours = ['tide', 'kelp', 'brass', 'slate', 'flare', 'plum'] as const;
export type GroupColour = (typeof groupColours)[number];
