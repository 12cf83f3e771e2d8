/**
 * A random forest (Breiman 2001) as data: each tree a list of nodes, the root first. Every node keeps what share of its
 * samples was of which class, so that a decision can be explained: what the steps of the way changed is summed by
 * feature (the "decision path" way of explaining a forest).
 */
export interface Forest<Class extends string, Feature extends string> {
  classes: readonly Class[];
  features: readonly Feature[];
  trees: readonly Tree[];
}

/** Nodes side by side; a leaf has feature -1. */
export interface Tree {
  feature: readonly number[];
  threshold: readonly number[];
  /** Index of the node for values up to the threshold; the one for larger values is in `right`. */
  left: readonly number[];
  right: readonly number[];
  /** Percent of the node's samples by class. */
  shares: readonly (readonly number[])[];
}

export interface Judgement<Class extends string, Feature extends string> {
  class: Class;
  /** From 0 to 1: the mean share over the trees. */
  sure: number;
  /** What spoke for it, the weightiest first: by how much, and whether the value was rather high or rather low. */
  reasons: { feature: Feature; high: boolean; weight: number }[];
}

export function judge<Class extends string, Feature extends string>(
  { classes, features, trees }: Forest<Class, Feature>,
  values: Readonly<Record<Feature, number>>,
): Judgement<Class, Feature> {
  const ways = trees.map((tree) =>
    wayThrough(
      tree,
      features.map((f) => values[f]),
    ),
  );
  const votes = classes.map((_, c) => ways.reduce((sum, { tree, nodes }) => sum + tree.shares[nodes.at(-1)!]![c]!, 0));
  const best = votes.indexOf(Math.max(...votes));
  const gains = features.map(() => ({ high: 0, low: 0 }));
  for (const { tree, nodes } of ways)
    for (let i = 1; i < nodes.length; i++) {
      const [from, to] = [nodes[i - 1]!, nodes[i]!];
      const gain = (tree.shares[to]![best]! - tree.shares[from]![best]!) / (100 * trees.length);
      gains[tree.feature[from]!]![to === tree.right[from] ? 'high' : 'low'] += gain;
    }
  const reason = gains
    .map(({ high, low }, f) => ({ feature: features[f]!, high: high > low, weight: Math.max(high, low) }))
    .filter(({ weight }) => weight > 0.02)
    .sort((a, b) => b.weight - a.weight);
  return { class: classes[best]!, sure: votes[best]! / (100 * trees.length), reasons: reason };
}

function wayThrough(tree: Tree, values: readonly number[]): { tree: Tree; nodes: number[] } {
  const nodes = [0];
  for (let at = 0; tree.feature[at]! >= 0; nodes.push(at))
    at = (values[tree.feature[at]!]! <= tree.threshold[at]! ? tree.left : tree.right)[at]!;
  return { tree, nodes };
}
