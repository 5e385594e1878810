import { nextTick, ref, shallowRef } from 'vue';
import { usePieces } from './use-pieces.ts';

const list = (...ids: number[]) => ids.map((versionId) => ({ versionId }));
const begin = (ids: number[], chosen: number | null = null) => {
  const pieces = shallowRef(list(...ids));
  const chosenId = ref(chosen);
  const address = ref({ course: 1, piece: 3 });
  return { pieces, chosenId, address, ...usePieces(pieces, chosenId, [() => address.value.course]) };
};

test('the first piece is shown until one is chosen; a link to a piece shows that one', async () => {
  expect(begin([8, 9]).shown.value).toBe(8);
  expect(begin([8, 9], 9).shown.value).toBe(9);
  const { pieces, shown } = begin([]);
  expect(shown.value).toBeNull();
  pieces.value = list(4, 5);
  await nextTick();
  expect(shown.value).toBe(4);
});

test('a link to a piece that is no longer in the list shows the first', async () => {
  const { shown, chosenId, pieces } = begin([], 77);
  pieces.value = list(8, 9);
  await nextTick();
  expect([shown.value, chosenId.value]).toEqual([8, 8]);
});

test('one steps down and up as far as the list goes', () => {
  const { step, shown } = begin([3, 4, 5]);
  const walked = ([1, 1, 1, -1, -1, -1] as const).map((by) => {
    step(by);
    return shown.value;
  });
  expect(walked).toEqual([4, 5, 5, 4, 3, 3]);
});

test.each([
  [3, [4, 5], 4],
  [4, [3, 5], 5],
  [5, [3, 4], 4],
])('after piece %d is marked and gone, the one behind it is shown, or the one before it', async (marked, left, next) => {
  const { pieces, goOn, shown } = begin([3, 4, 5], marked);
  goOn();
  pieces.value = list(...left);
  await nextTick();
  expect(shown.value).toBe(next);
});

test('after the last piece nothing is shown, and the next that comes in is', async () => {
  const { pieces, goOn, shown } = begin([3]);
  goOn();
  pieces.value = [];
  await nextTick();
  expect(shown.value).toBeNull();
  pieces.value = list(11);
  await nextTick();
  expect(shown.value).toBe(11);
});

test('pieces are ticked and left in the order of the list; one that leaves the list is ticked no more', () => {
  const { pieces, tick, ticked, isTicked, isChoosing } = begin([3, 4, 5, 6]);
  isChoosing.value = true;
  for (const id of [5, 3, 6, 3, 4]) tick(id);
  expect([ticked.value.map(({ versionId }) => versionId), isTicked(3), isTicked(5)]).toEqual([[4, 5, 6], false, true]);
  pieces.value = list(3, 6);
  expect(ticked.value).toEqual(list(6));
});

test('another list begins at its first piece, with nothing ticked', async () => {
  const { pieces, address, tick, ticked, isChoosing, shown, step } = begin([3, 4]);
  step(1);
  isChoosing.value = true;
  tick(3);
  address.value = { course: 2, piece: 4 };
  pieces.value = list(3, 4, 9);
  await nextTick();
  expect([shown.value, isChoosing.value, ticked.value]).toEqual([3, false, []]);
});

test('while several are chosen none is put beside the list, and the first is once that ends', async () => {
  const { pieces, chosenId, isChoosing, stopChoosing, shown } = begin([3, 4]);
  isChoosing.value = true;
  chosenId.value = null;
  pieces.value = list(4);
  await nextTick();
  expect(shown.value).toBeNull();
  stopChoosing();
  await nextTick();
  expect(shown.value).toBe(4);
});

test('the address changes with each piece, and the list stays the same one', async () => {
  const { address, shown, step, tick, ticked } = begin([3, 4, 5]);
  step(1);
  tick(5);
  address.value = { course: 1, piece: 4 };
  await nextTick();
  expect([shown.value, ticked.value]).toEqual([4, list(5)]);
});
