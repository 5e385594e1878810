/** What can be done to people who are chosen. */
export type PeopleAct = 'put' | 'move' | 'remove' | 'tag' | 'state' | 'except';

/** What can be changed about one person. */
export type PersonFormKind = 'edit' | 'state' | 'merge' | 'erase';

/** How accounts shall stand; days count only while they work. */
export interface StateAsked {
  state: 'active' | 'paused' | 'ended';
  firstDay: string | null;
  lastDay: string | null;
}

/** As the change wants it: who is paused or ended has no days. */
export const stateValues = ({ state, firstDay, lastDay }: StateAsked): StateAsked =>
  state === 'active' ? { state, firstDay, lastDay } : { state, firstDay: null, lastDay: null };
