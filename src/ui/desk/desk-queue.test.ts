/** @jest-environment jsdom */
import { dropQueues, joinQueues, stepOf, storedQueue, storeQueue } from './desk-queue';

/** The queue that is worked through: it grows at its ends and stays as it was between them. */
const ids = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, i) => from + i);

test('a step knows where it is, what is beside it, and from where more is needed', () => {
  const queue = { position: 21, total: 200, ids: ids(100, 180) };
  expect(stepOf(queue, 140)).toMatchObject({ position: 61, total: 200, previous: 139, next: 141, wants: null });
  expect(stepOf(queue, 175)).toMatchObject({ next: 176, wants: 180 });
  expect(stepOf(queue, 103)).toMatchObject({ previous: 102, wants: 100 });
  expect(stepOf(queue, 7)).toEqual({ position: null, total: 200, previous: null, next: null, ahead: [], wants: 7 });
  const whole = { position: 1, total: 3, ids: [4, 5, 6] };
  expect(stepOf(whole, 6)).toMatchObject({ position: 3, previous: 5, next: null, wants: null });
});

test('what comes after is added at the end; what was worded meanwhile keeps its place', () => {
  const known = { position: 1, total: 90, ids: [1, 2, 3, 4] };
  // The view has lost 2 and 3, which have words by now.
  const more = { position: 1, total: 88, ids: [1, 4, 5, 6] };
  expect(joinQueues(known, more)).toEqual({ position: 1, total: 90, ids: [1, 2, 3, 4, 5, 6] });
});

test('what comes before is added at the start, and moves the position', () => {
  const known = { position: 21, total: 90, ids: [21, 22, 23] };
  expect(joinQueues(known, { position: 11, total: 90, ids: [...ids(11, 20), 21, 22] })).toEqual({
    position: 11,
    total: 90,
    ids: ids(11, 23),
  });
});

test('a queue that has nothing in common takes the place of the one before', () => {
  const other = { position: 5, total: 9, ids: [8, 9] };
  expect(joinQueues({ position: 1, total: 2, ids: [1, 2] }, other)).toBe(other);
});

test('it is kept for the tab, by view, until the Galley is looked at again', () => {
  const queue = { position: 1, total: 2, ids: [1, 2] };
  storeQueue('isle', 'state=missing', queue);
  expect(storedQueue('isle', 'state=missing')).toEqual(queue);
  expect(storedQueue('isle', '')).toBeNull();
  dropQueues('isle');
  expect(storedQueue('isle', 'state=missing')).toBeNull();
});
