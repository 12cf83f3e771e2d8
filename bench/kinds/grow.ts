import type { Forest, Tree } from '../../src/core/picture/forest';
import { numbers } from './drawn';

export interface Sample {
  values: number[];
  label: number;
}

const TREES = 50;
const DEPTH = 11;
const LEAST = 4;
/** Thresholds that are tried for a feature of a node. */
const TRIES = 24;

/** Grows a random forest (Breiman 2001): bootstrap with as many samples of each class, a few features a node, Gini. */
export function grow<C extends string, F extends string>(
  samples: readonly Sample[],
  classes: readonly C[],
  features: readonly F[],
): Forest<C, F> {
  const random = numbers(5);
  const byClass = classes.map((_, c) => samples.filter((s) => s.label === c));
  const each = Math.round(Math.min(160, samples.length / classes.length));
  const trees = Array.from({ length: TREES }, () => {
    const bag = byClass.flatMap((own) =>
      own.length === 0 ? [] : Array.from({ length: each }, () => own[Math.floor(random() * own.length)]!),
    );
    return growTree(bag, classes.length, features.length, random);
  });
  return { classes, features, trees };
}

function growTree(bag: Sample[], classes: number, features: number, random: () => number): Tree {
  const tree = { feature: [], threshold: [], left: [], right: [], shares: [] } as Record<string, unknown[]> as {
    feature: number[];
    threshold: number[];
    left: number[];
    right: number[];
    shares: number[][];
  };
  const few = Math.ceil(Math.sqrt(features)) + 1;
  const node = (samples: Sample[], depth: number): number => {
    const at = tree.feature.length;
    const counts = countsOf(samples, classes);
    tree.feature.push(-1);
    tree.threshold.push(0);
    tree.left.push(-1);
    tree.right.push(-1);
    tree.shares.push(counts.map((c) => Math.round((100 * c) / samples.length)));
    if (depth >= DEPTH || samples.length < 2 * LEAST || counts.filter((c) => c > 0).length < 2) return at;
    let best = { gain: 1e-6, feature: -1, threshold: 0 };
    const whole = gini(counts, samples.length);
    for (let k = 0; k < few; k++) {
      const feature = Math.floor(random() * features);
      for (let t = 0; t < TRIES; t++) {
        const a = samples[Math.floor(random() * samples.length)]!.values[feature]!;
        const b = samples[Math.floor(random() * samples.length)]!.values[feature]!;
        const threshold = Number(((a + b) / 2).toPrecision(4));
        const left = samples.filter((s) => s.values[feature]! <= threshold);
        if (left.length < LEAST || samples.length - left.length < LEAST) continue;
        const l = countsOf(left, classes);
        const r = counts.map((c, i) => c - l[i]!);
        const n = samples.length;
        const gain =
          whole - (left.length / n) * gini(l, left.length) - (1 - left.length / n) * gini(r, n - left.length);
        if (gain > best.gain) best = { gain, feature, threshold };
      }
    }
    if (best.feature < 0) return at;
    const isLeft = (s: Sample) => s.values[best.feature]! <= best.threshold;
    tree.feature[at] = best.feature;
    tree.threshold[at] = best.threshold;
    tree.left[at] = node(samples.filter(isLeft), depth + 1);
    tree.right[at] = node(
      samples.filter((s) => !isLeft(s)),
      depth + 1,
    );
    return at;
  };
  node(bag, 0);
  return tree;
}

function countsOf(samples: readonly Sample[], classes: number): number[] {
  const counts = Array.from({ length: classes }, () => 0);
  for (const { label } of samples) counts[label]!++;
  return counts;
}

const gini = (counts: readonly number[], n: number) => 1 - counts.reduce((s, c) => s + (c / n) ** 2, 0);
