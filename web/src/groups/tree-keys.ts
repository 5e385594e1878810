/** Where the focus is in the tree as it is drawn, line by line. */
export interface FocusedLine {
  index: number;
  hasChildren: boolean;
  isOpen: boolean;
  /** The line of the group above; below 0: it is not drawn. */
  parentIndex: number;
}

export interface TreeState {
  lines: number;
  /** Are groups being carried to another place? */
  isCarrying: boolean;
  mayShape: boolean;
}

export type TreeAct = { act: 'focus'; index: number } | { act: 'open' | 'close' | 'go' | 'take' | 'put here' | 'put down' };

/**
 * What a key does in the tree (the keys of a tree view in the ARIA practices; space and enter go to the group, or put down there what is
 * carried; M takes it up). @returns Null for keys that mean nothing here.
 */
export function treeAct(key: string, { index, hasChildren, isOpen, parentIndex }: FocusedLine, state: TreeState): TreeAct | null {
  switch (key) {
    case 'ArrowDown':
      return { act: 'focus', index: index + 1 };
    case 'ArrowUp':
      return { act: 'focus', index: index - 1 };
    case 'Home':
      return { act: 'focus', index: 0 };
    case 'End':
      return { act: 'focus', index: state.lines - 1 };
    case 'ArrowRight':
      return hasChildren && !isOpen ? { act: 'open' } : { act: 'focus', index: index + 1 };
    case 'ArrowLeft':
      return hasChildren && isOpen ? { act: 'close' } : { act: 'focus', index: parentIndex };
    case 'Enter':
    case ' ':
      return { act: state.isCarrying ? 'put here' : 'go' };
    case 'Escape':
      return state.isCarrying ? { act: 'put down' } : null;
    case 'm':
      return state.mayShape && !state.isCarrying ? { act: 'take' } : null;
    default:
      return null;
  }
}
