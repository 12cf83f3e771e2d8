import type { Box, Thing } from './recognised';

/** The 80 classes of the COCO data set (2017) in the order of both detectors, with what each is a kind of (its supercategories). */
const CLASSES: readonly (readonly [name: string, broader: string])[] = [
  ['person', 'person'],
  ...of('vehicle', 'bicycle car motorcycle airplane bus train truck boat'),
  ...of('street furniture', 'traffic_light fire_hydrant stop_sign parking_meter bench'),
  ...of('animal', 'bird cat dog horse sheep cow elephant bear zebra giraffe'),
  ...of('bag or garment', 'backpack umbrella handbag tie suitcase'),
  ...of(
    'sports thing',
    'frisbee skis snowboard ball kite baseball_bat baseball_glove skateboard surfboard tennis_racket',
  ),
  ...of('tableware', 'bottle wine_glass cup fork knife spoon bowl'),
  ...of('food', 'banana apple sandwich orange broccoli carrot hot_dog pizza doughnut cake'),
  ...of('furniture', 'chair couch potted_plant bed table toilet'),
  ...of('device', 'television laptop mouse remote_control keyboard telephone'),
  ...of(
    'household thing',
    'microwave oven toaster sink refrigerator book clock vase scissors teddy_bear hair_dryer toothbrush',
  ),
];

function of(broader: string, names: string): [string, string][] {
  return names.split(' ').map((name) => [name.replace('_', ' '), broader]);
}

export const CLASS_COUNT = CLASSES.length;

/** What one detector says: a class by its number, how sure, and where. */
export interface Detection {
  class: number;
  sure: number;
  box: Box;
}

/** Geometric mean of both detectors' scores from which a thing counts; measured in docs/pictures.md. */
const LEAST = 0.5;
/** From here on, in both, the thing itself is named; below, what it is a kind of. */
const BOTH_SURE = 0.55;
/** Of the first detector, from which further ones of a class that counts are counted. */
const FURTHER = 0.3;
/** Share of their union from which two boxes are one thing. */
const SAME_PLACE = 0.45;

/**
 * Things on which two detectors agree: one alone names unknown things confidently.
 *
 * @param placed detections of the first, with boxes
 * @param best the second detector's best score by class
 */
export function agreedThings(placed: readonly Detection[], best: readonly number[]): Thing[] {
  const out: Thing[] = [];
  const first = new Map<number, number>();
  for (const d of placed) first.set(d.class, Math.max(first.get(d.class) ?? 0, d.sure));
  for (const [number, one] of [...first].sort((a, b) => b[1] - a[1])) {
    const other = best[number] ?? 0;
    const sure = Math.sqrt(one * other);
    const named = CLASSES[number];
    if (!named || sure < LEAST) continue;
    const name = Math.min(one, other) >= BOTH_SURE ? named[0] : named[1];
    const boxes: Box[] = [];
    for (const d of placed.filter((p) => p.class === number).sort((a, b) => b.sure - a.sure))
      if (d.sure >= Math.min(one, FURTHER) && boxes.every((b) => overlap(b, d.box) < SAME_PLACE)) boxes.push(d.box);
    out.push(...boxes.map((box) => ({ name, sure, box })));
  }
  return out;
}

/** Score of the agreement on one class, from 0 to 1. */
export function agreementOn(number: number, placed: readonly Detection[], best: readonly number[]): number {
  const one = Math.max(0, ...placed.filter((d) => d.class === number).map((d) => d.sure));
  return Math.sqrt(one * (best[number] ?? 0));
}
export const PERSON = 0;

/** Intersection over union. */
export function overlap(a: Box, b: Box): number {
  const width = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const height = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  if (width <= 0 || height <= 0) return 0;
  const both = width * height;
  return both / (a.width * a.height + b.width * b.height - both);
}

/** Boxes that are not the same place as a surer one; `boxes` from the surest down. */
export function distinct(boxes: readonly Box[], same = 0.3): Box[] {
  const kept: Box[] = [];
  for (const box of boxes) if (kept.every((k) => overlap(k, box) < same)) kept.push(box);
  return kept;
}

/** Things by name with how many, the most certain first: "2 boats". */
export function countedThings(things: readonly Thing[]): { name: string; count: number; sure: number }[] {
  const out = new Map<string, { name: string; count: number; sure: number }>();
  for (const { name, sure } of things) {
    const own = out.get(name);
    if (own) own.count++;
    else out.set(name, { name, count: 1, sure });
  }
  return [...out.values()].sort((a, b) => b.sure - a.sure);
}
