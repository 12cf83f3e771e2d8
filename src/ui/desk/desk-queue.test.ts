/** @jest-environment jsdom */
import { dropQueues, newIn, stepOf, storedQueue, storeQueue } from './desk-queue';

const pile = { from: 2, ids: [4, 2, 9, 7], isWhole: true };

test('a step knows where it is in the pile, what is around it, and what is ahead', () => {
  expect(stepOf(pile, 2, 2)).toEqual({ position: 2, total: 4, previous: 4, next: 9, ahead: [9, 7] });
  expect(stepOf(pile, 7, 7)).toEqual({ position: 4, total: 4, previous: 9, next: null, ahead: [] });
});

test('from a picture that is not in the pile, the way goes on from the one before', () => {
  expect(stepOf(pile, 30, 2)).toEqual({ position: null, total: 4, previous: 2, next: 9, ahead: [9, 7] });
});

test('what is new in the view is what the pile does not know, in the order of the view', () => {
  // 2 and 9 have words by now; the view shows them no more, and they are no news when they come back.
  expect(newIn(pile, { ids: [11, 4, 7, 3], isWhole: true })).toEqual([11, 3]);
  expect(newIn(pile, { ids: [9, 2], isWhole: true })).toEqual([]);
});

test('it is kept for the tab, by view, until the Galley is looked at again', () => {
  storeQueue('isle', 'state=missing', pile);
  expect(storedQueue('isle', 'state=missing')).toEqual(pile);
  expect(storedQueue('isle', '')).toBeNull();
  dropQueues('isle');
  expect(storedQueue('isle', 'state=missing')).toBeNull();
});
