import { nameKey } from './group-name.ts';
import { type GroupNode, Tree } from './tree.ts';

const node = (id: number, parentId: number | null, more: Partial<GroupNode> = {}): GroupNode => ({
  id,
  parentId,
  name: `g${id}`,
  state: 'active',
  firstDay: null,
  lastDay: null,
  ...more,
});

describe('Tree', () => {
  it('walks 64 levels and knows branches at each', () => {
    const deep = new Tree(Array.from({ length: 64 }, (_, index) => node(index + 1, index === 0 ? null : index)));
    expect(deep.path(64)).toHaveLength(64);
    expect(deep.branch(1)).toHaveLength(64);
    expect(deep.isInBranch(64, 32)).toBe(true);
    expect(deep.isInBranch(31, 32)).toBe(false);
  });

  it('throws where parents run in a circle', () => {
    expect(() => new Tree([node(1, 2), node(2, 1)]).path(1)).toThrow('its own ancestor');
  });

  it('begins a leader’s cut at the branch’s top', () => {
    expect(new Tree([node(5, 1), node(6, 5)]).path(6)).toEqual([5, 6]);
  });

  it('puts a whole branch out of force when its top is archived or over', () => {
    const tree = new Tree([node(1, null, { state: 'archived' }), node(2, 1), node(3, null, { lastDay: '2026-03-01' }), node(4, 3)]);
    expect(tree.isInForce(2, '2026-03-01')).toBe(false);
    expect([tree.isInForce(4, '2026-03-01'), tree.isInForce(4, '2026-03-02')]).toEqual([true, false]);
  });
});

test('sibling names are compared trimmed, composed and without case', () => {
  expect(nameKey('  Café   crew ')).toBe(nameKey('CAFÉ CREW'));
  expect(nameKey('Crew')).not.toBe(nameKey('Crews'));
});
