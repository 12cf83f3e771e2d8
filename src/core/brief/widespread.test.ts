import { isWidespread } from './widespread';

test.each([
  [406, 1_200, true],
  [300, 1_200, false],
  [19, 40, false],
  [20, 40, true],
  [0, 0, false],
])('%s of %s places: %s', (places, of, expected) => expect(isWidespread(places, of)).toBe(expected));
