import { agreedThings, countedThings, distinct, overlap, CLASS_COUNT, type Detection } from './things';

const box = (x: number, y = 0, width = 0.2, height = 0.2) => ({ x, y, width, height });
const BOAT = 8;
const CAT = 15;
const seen = (number: number, sure: number, x = 0): Detection => ({ class: number, sure, box: box(x) });
const best = (...scores: [number, number][]) => {
  const all = Array.from({ length: CLASS_COUNT }, () => 0);
  for (const [number, score] of scores) all[number] = score;
  return all;
};

/** The order of COCO 2017 (from memory): its published lists begin, count and end so. */
test('the classes are those of COCO', () => {
  const named = (n: number) => agreedThings([seen(n, 0.9)], best([n, 0.9]))[0]?.name;
  expect(CLASS_COUNT).toBe(80);
  expect([0, 1, 2, BOAT, 14, CAT, 16].map(named)).toEqual(['person', 'bicycle', 'car', 'boat', 'bird', 'cat', 'dog']);
  expect([79, 73, 56].map(named)).toEqual(['toothbrush', 'book', 'chair']);
});

describe('what both detectors see', () => {
  test('counts when their scores agree, by name when both are sure, else by what it is a kind of', () => {
    expect(agreedThings([seen(BOAT, 0.9)], best([BOAT, 0.6]))).toMatchObject([{ name: 'boat' }]);
    expect(agreedThings([seen(BOAT, 0.9)], best([BOAT, 0.4]))).toMatchObject([{ name: 'vehicle' }]);
    expect(agreedThings([seen(CAT, 0.52)], best([CAT, 0.52]))).toMatchObject([{ name: 'animal' }]);
    expect(agreedThings([seen(BOAT, 0.9)], best([BOAT, 0.2]))).toEqual([]);
    expect(agreedThings([seen(BOAT, 0.9)], best([CAT, 0.9]))).toEqual([]);
  });

  test('further ones of a class that counts are counted, but one place only once', () => {
    const three = [seen(BOAT, 0.9, 0), seen(BOAT, 0.35, 0.5), seen(BOAT, 0.8, 0.02), seen(BOAT, 0.1, 0.7)];
    expect(countedThings(agreedThings(three, best([BOAT, 0.9])))).toEqual([
      { name: 'boat', count: 2, sure: Math.sqrt(0.81) },
    ]);
  });

  test('the surest comes first', () => {
    const things = agreedThings([seen(CAT, 0.7, 0), seen(BOAT, 0.95, 0.5)], best([CAT, 0.7], [BOAT, 0.9]));
    expect(countedThings(things).map((t) => t.name)).toEqual(['boat', 'cat']);
  });
});

test('boxes overlap by their intersection over their union', () => {
  expect(overlap(box(0), box(0))).toBeCloseTo(1);
  expect(overlap(box(0), box(0.1))).toBeCloseTo(1 / 3);
  expect(overlap(box(0), box(0.2))).toBe(0);
  expect(overlap(box(0), box(0.5, 0.5))).toBe(0);
  expect(distinct([box(0), box(0.05), box(0.5)])).toEqual([box(0), box(0.5)]);
});
