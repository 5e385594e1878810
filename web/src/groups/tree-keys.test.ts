import { expect, test } from '@jest/globals';
import { type FocusedLine, treeAct, type TreeState } from './tree-keys.ts';

const line = (some: Partial<FocusedLine> = {}): FocusedLine => ({ index: 4, hasChildren: false, isOpen: false, parentIndex: 1, ...some });
const state = (some: Partial<TreeState> = {}): TreeState => ({ lines: 9, isCarrying: false, mayShape: true, ...some });
const focus = (index: number): object => ({ act: 'focus', index });

test('arrows go line by line, open and close a branch, and go to the group above', () => {
  expect(['ArrowDown', 'ArrowUp', 'Home', 'End'].map((key) => treeAct(key, line(), state()))).toEqual([
    focus(5),
    focus(3),
    focus(0),
    focus(8),
  ]);
  const right = (some: Partial<FocusedLine>): unknown => treeAct('ArrowRight', line(some), state());
  expect([right({ hasChildren: true }), right({ hasChildren: true, isOpen: true }), right({})]).toEqual([
    { act: 'open' },
    focus(5),
    focus(5),
  ]);
  const left = (some: Partial<FocusedLine>): unknown => treeAct('ArrowLeft', line(some), state());
  expect([left({ hasChildren: true, isOpen: true }), left({ hasChildren: true }), left({ parentIndex: -1 })]).toEqual([
    { act: 'close' },
    focus(1),
    focus(-1),
  ]);
});

test('enter and space go there; while something is carried they put it down there, and Escape gives it up', () => {
  for (const key of ['Enter', ' ']) {
    expect(treeAct(key, line(), state())).toEqual({ act: 'go' });
    expect(treeAct(key, line(), state({ isCarrying: true }))).toEqual({ act: 'put here' });
  }
  expect([treeAct('Escape', line(), state({ isCarrying: true })), treeAct('Escape', line(), state())]).toEqual([{ act: 'put down' }, null]);
});

test('only who shapes groups takes one up, and not while another is carried', () => {
  expect([
    treeAct('m', line(), state()),
    treeAct('m', line(), state({ mayShape: false })),
    treeAct('m', line(), state({ isCarrying: true })),
    treeAct('x', line(), state()),
    treeAct('Tab', line(), state()),
  ]).toEqual([{ act: 'take' }, null, null, null, null]);
});
