/** What can be done to groups as a whole. */
export type GroupAct = 'move' | 'archive' | 'unarchive' | 'delete';
