import { emptyTally } from '@gate-roster/core';
import type { TreeRow } from '../groups/tree-query.ts';

/** A group of a tree, of which only place and name matter. It has as many people as its number. */
export const treeRow = (id: number, parentId: number | null, name: string): TreeRow => ({
  id,
  parentId,
  name,
  state: 'active',
  colour: null,
  youngLearners: false,
  people: id,
  tags: [],
  leaders: [],
  tally: emptyTally,
});
