import type { Fingerprint } from './fingerprint';

/** A picture as it is compared; `id` orders them, so that the first of a group stands for it. */
export interface Comparable extends Fingerprint {
  id: number;
  width: number;
  height: number;
  /** When it was taken, as `2024-05-14 09:12`; null where the file does not say. */
  taken: string | null;
  /** File name without its number and extension, with its folder: what a series has in common; null where there is none. */
  stem: string | null;
}

export interface Alike {
  /** The first of those that are the same but for encoding, size or a narrow crop; null for one that stands alone. */
  duplicateGroup: number | null;
  /** The first of a series of look-alikes, families included. */
  similarGroup: number | null;
}

/** Bits of 64 by which the wave hashes of one picture may differ once it was re-encoded, resized or cropped a little. */
export const SAME_WAVES = 8;
/** The same for the block hash, which confirms: wave hashes of drawings collide. */
export const SAME_BLOCKS = 12;
/** Mean difference of the colour fields, in steps of 255: of one picture; of two that look alike; of two of one event. */
export const SAME_FIELDS = 5;
export const ALIKE_FIELDS = 10;
export const EVENT_FIELDS = 20;
/** Minutes between two pictures of one event. */
const EVENT_MINUTES = 30;
/** Two shapes are one when their ratios differ by no more. */
const SAME_SHAPE = 1.12;
/** More pictures of one stem are a naming habit, no series. */
const LARGEST_SERIES = 400;

/**
 * Which pictures are the same, and which look alike.
 *
 * Candidates come from the wave hashes (multi-index hashing: Norouzi, Punjani, Fleet 2012), from names that differ in a
 * number only, and from when pictures were taken; block hash, colours and shape confirm. Measured in docs/pictures.md.
 */
export function groupSimilar(pictures: readonly Comparable[]): Map<number, Alike> {
  const telling = pictures.filter((p) => p.tells);
  const waves = new Hashes(telling.map((p) => p.waves));
  const blocks = new Hashes(telling.map((p) => p.blocks));
  const fields = telling.map((p) => bytesOf(p.fields));
  const families = new Groups(telling.length);
  const similarGroup = new Groups(telling.length);

  waves.near(SAME_WAVES, (i, j) => {
    if ((similarGroup.same(i, j) && families.same(i, j)) || !sameShape(telling[i]!, telling[j]!)) return;
    const colours = fieldsApart(fields[i]!, fields[j]!);
    if (colours <= ALIKE_FIELDS) similarGroup.join(i, j);
    if (colours <= SAME_FIELDS && blocks.apart(i, j) <= SAME_BLOCKS) families.join(i, j);
  });
  const ofOneEvent = (i: number, j: number) => {
    if (fieldsApart(fields[i]!, fields[j]!) <= EVENT_FIELDS && sameShape(telling[i]!, telling[j]!))
      similarGroup.join(i, j);
  };
  for (const members of byStem(telling))
    for (const [k, i] of members.entries()) for (const j of members.slice(k + 1)) ofOneEvent(i, j);
  for (const [i, j] of oneAfterTheOther(telling)) ofOneEvent(i, j);

  const first = (groups: Groups) => {
    const of = new Map<number, number>();
    const sizes = new Map<number, number>();
    telling.forEach((p, i) => {
      const root = groups.root(i);
      of.set(root, Math.min(of.get(root) ?? Infinity, p.id));
      sizes.set(root, (sizes.get(root) ?? 0) + 1);
    });
    return (i: number) => (sizes.get(groups.root(i))! > 1 ? of.get(groups.root(i))! : null);
  };
  const [familyOf, seriesOf] = [first(families), first(similarGroup)];
  const out = new Map<number, Alike>(pictures.map((p) => [p.id, { duplicateGroup: null, similarGroup: null }]));
  telling.forEach((p, i) => out.set(p.id, { duplicateGroup: familyOf(i), similarGroup: seriesOf(i) }));
  return out;
}

/** What names of a series have in common: `/gallery/puffin-week-12.jpg` gives `/gallery/puffin-week`. */
export function stemOf(src: string | null): string | null {
  if (!src || src.startsWith('data:')) return null;
  const address = src.split(/[?#]/)[0]!;
  const found = /^(.*\/)?([^/]*?[a-z][^/]*?)[-_ ]*\d{1,4}(?:[-_]\d{2,4}x\d{2,4})?\.[a-z]{3,4}$/i.exec(address);
  return found ? `${found[1] ?? ''}${found[2]!.toLowerCase()}` : null;
}

function byStem(pictures: readonly Comparable[]): number[][] {
  const stems = new Map<string, number[]>();
  pictures.forEach((p, i) => {
    if (p.stem === null) return;
    const own = stems.get(p.stem);
    if (own) own.push(i);
    else stems.set(p.stem, [i]);
  });
  return [...stems.values()].filter((s) => s.length > 1 && s.length <= LARGEST_SERIES);
}

/** Pairs that were taken soon after one another. */
function oneAfterTheOther(pictures: readonly Comparable[]): [number, number][] {
  const minutes = (i: number) => Date.parse(`${pictures[i]!.taken!.replace(' ', 'T')}Z`) / 60_000;
  const dated = pictures.flatMap((p, i) => (p.taken && !Number.isNaN(minutes(i)) ? [i] : []));
  dated.sort((a, b) => minutes(a) - minutes(b));
  return dated
    .slice(1)
    .flatMap((i, k) => (minutes(i) - minutes(dated[k]!) <= EVENT_MINUTES ? [[dated[k]!, i] as [number, number]] : []));
}

function sameShape(a: Comparable, b: Comparable): boolean {
  const ratio = (a.width * b.height) / (a.height * b.width);
  return ratio < SAME_SHAPE && ratio > 1 / SAME_SHAPE;
}

/** Steps of a colour axis up to which a field has no colour. */
const COLOURLESS = 5;

/** How much two pictures differ field by field; by lightness alone where one of them has no colours. */
function fieldsApart(a: Uint8Array, b: Uint8Array): number {
  if (!isGrey(a) && !isGrey(b)) return meanDifference(a, b);
  const lightness = (of: Uint8Array) => of.filter((_, i) => i % 3 === 0);
  return meanDifference(lightness(a), lightness(b));
}

const isGrey = (fields: Uint8Array) => fields.every((v, i) => i % 3 === 0 || Math.abs(v - 128) <= COLOURLESS);

export function meanDifference(a: Uint8Array, b: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i]! - b[i]!);
  return sum / a.length;
}

/**
 * How much two pictures differ in colour wherever things stand in them, so that cuts of one scene differ little: for each
 * field the nearest of the other, both ways.
 *
 * @returns mean difference, in steps of 255
 */
export function sceneDifference(a: string, b: string): number {
  const [x, y] = [fieldsOf(a), fieldsOf(b)];
  const nearest = (from: Uint8Array[], to: Uint8Array[]) =>
    from.reduce((sum, f) => sum + Math.min(...to.map((t) => meanDifference(f, t))), 0) / from.length;
  return (nearest(x, y) + nearest(y, x)) / 2;
}

/** Each field's three bytes. */
function fieldsOf(hex: string): Uint8Array[] {
  const all = bytesOf(hex);
  return Array.from({ length: Math.floor(all.length / 3) }, (_, i) => all.subarray(i * 3, i * 3 + 3));
}

const bytesOf = (hex: string) => Uint8Array.from(hex.match(/../g) ?? [], (byte) => parseInt(byte, 16));

/** Bits by which two hashes of 16 hexadecimal digits differ. */
export function bitsApart(a: string, b: string): number {
  return new Hashes([a, b]).apart(0, 1);
}

/** Hashes of 64 bits, as two halves each. */
class Hashes {
  private readonly high: Int32Array;
  private readonly low: Int32Array;

  constructor(hex: readonly string[]) {
    this.high = Int32Array.from(hex, (h) => parseInt(h.slice(0, 8), 16));
    this.low = Int32Array.from(hex, (h) => parseInt(h.slice(8), 16));
  }

  apart(i: number, j: number): number {
    return bits(this.high[i]! ^ this.high[j]!) + bits(this.low[i]! ^ this.low[j]!);
  }

  /**
   * Calls `found` for every pair that differs by at most `most` bits, more than once at times: of four quarters of 16
   * bits, one then differs by a quarter of that at most.
   */
  near(most: number, found: (i: number, j: number, apart: number) => void): void {
    const masks = masksUpTo(Math.floor(most / 4));
    for (const quarter of [0, 1, 2, 3]) {
      const half = quarter < 2 ? this.high : this.low;
      const key = (i: number) => (quarter % 2 === 0 ? half[i]! >>> 16 : half[i]! & 0xffff);
      const { starts, members } = bucketed(half.length, key);
      for (let i = 0; i < half.length; i++) {
        const own = key(i);
        for (const mask of masks) {
          const bucket = own ^ mask;
          for (let at = starts[bucket]!; at < starts[bucket + 1]!; at++) {
            const j = members[at]!;
            if (j <= i) continue;
            const apart = this.apart(i, j);
            if (apart <= most) found(i, j, apart);
          }
        }
      }
    }
  }
}

/** Members by key of 16 bits, one after the other. */
function bucketed(n: number, key: (i: number) => number): { starts: Int32Array; members: Int32Array } {
  const starts = new Int32Array(65537);
  for (let i = 0; i < n; i++) starts[key(i) + 1]!++;
  for (let k = 0; k < 65536; k++) starts[k + 1]! += starts[k]!;
  const next = starts.slice(0, 65536);
  const members = new Int32Array(n);
  for (let i = 0; i < n; i++) members[next[key(i)]!++] = i;
  return { starts, members };
}

/** All numbers of 16 bits with at most so many ones. */
function masksUpTo(ones: number): number[] {
  return Array.from({ length: 65536 }, (_, m) => m).filter((m) => bits(m) <= ones);
}

/** Ones in a number of 32 bits (Hacker's Delight 5-1). */
function bits(value: number): number {
  let v = value - ((value >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** Disjoint sets with path halving. */
class Groups {
  private readonly parent: Int32Array;

  constructor(n: number) {
    this.parent = Int32Array.from({ length: n }, (_, i) => i);
  }

  root(i: number): number {
    let at = i;
    while (this.parent[at] !== at) {
      this.parent[at] = this.parent[this.parent[at]!]!;
      at = this.parent[at]!;
    }
    return at;
  }

  join(i: number, j: number): void {
    this.parent[this.root(j)] = this.root(i);
  }

  same(i: number, j: number): boolean {
    return this.root(i) === this.root(j);
  }
}
