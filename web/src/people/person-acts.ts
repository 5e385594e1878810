/** What can be done to people who are chosen. */
export type PeopleAct = 'put' | 'move' | 'remove' | 'tag' | 'state';

/** What can be changed about one person. */
export type PersonFormKind = 'edit' | 'state' | 'merge' | 'erase';

/** Tags of which somebody has at least one, every one, none. */
export interface TagsAsked {
  anyTag: number[];
  allTags: number[];
  noTag: number[];
}
