import { EVERYTHING } from '@/contract/galley';
import { line } from '../testing/samples';
import { ALL, isSelected, keyOf, lineTarget, NONE, select, sizeOf, targetOf } from './selection';

/** What is selected: some lines, or all of 40,000 but some, without a list of them. */
test('lines are selected and taken out again', () => {
  const three = select(NONE, [1, 2, 3], true);
  expect([isSelected(three, 2), isSelected(three, 4), sizeOf(three, 40_000)]).toEqual([true, false, 3]);
  expect(targetOf(select(three, [2], false), EVERYTHING)).toEqual({ kind: 'pictures', pictures: [1, 3] });
});

test('of all, some are left out, and named no others', () => {
  const most = select(ALL, [7], false);
  expect([isSelected(most, 7), isSelected(most, 8), sizeOf(most, 40_000)]).toEqual([false, true, 39_999]);
  expect(targetOf(most, EVERYTHING)).toEqual({ kind: 'view', view: EVERYTHING, except: [7] });
  expect(sizeOf(select(most, [7], true), 40_000)).toBe(40_000);
});

test('where lines are places, places are selected', () => {
  const place = line({ isPlace: true });
  expect(keyOf(place)).toBe(place.appearanceId);
  expect(targetOf(select(NONE, [keyOf(place)], true), { ...EVERYTHING, group: 'page' })).toEqual({
    kind: 'places',
    places: [11],
  });
  expect([lineTarget(place), lineTarget(line())]).toEqual([
    { kind: 'places', places: [11] },
    { kind: 'pictures', pictures: [5] },
  ]);
});
