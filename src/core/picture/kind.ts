import forest from './kinds.json' with { type: 'json' };
import type { Feature, Features } from './features';
import { judge, type Forest } from './forest';
import type { Kind } from '../model/picture-analysis';

export interface KindJudgement {
  kind: Kind;
  /** From 0 to 1. */
  sure: number;
  /** What decided, the weightiest first, in a few words each. */
  reasons: string[];
}

/** What a high and a low value of a measure mean, in words; null where they would only say what the picture is not. */
const MEANS: Record<Feature, [high: string | null, low: string | null]> = {
  area: ['large', 'small'],
  shortSide: [null, 'narrow'],
  aspect: ['wider than high', 'higher than wide'],
  elongation: ['much longer one way', 'about as wide as high'],
  square: ['square', null],
  clear: ['see-through around what it shows', null],
  halfClear: ['soft see-through edges', null],
  colours: ['many colours', 'few colours'],
  coloursPerPixel: ['hardly two pixels alike', 'the same colours again and again'],
  mainColour: ['mostly one colour', null],
  twoColours: ['mostly two colours', 'more than two main colours'],
  eightColours: ['nearly all in eight colours', 'shades of many colours'],
  even: ['large even areas', 'hardly an even area'],
  soft: ['soft shading', null],
  hard: ['many hard edges', 'few hard edges'],
  entropy: ['all shades from light to dark', 'few shades'],
  saturation: ['strong colours', 'pale colours'],
  saturationSpread: ['strong and pale colours together', 'equally strong colours'],
  grey: ['mostly greys', null],
  white: ['a white ground', null],
  dark: ['much that is dark', 'little that is dark'],
  edges: ['many edges', 'few edges'],
  upright: ['edges that are level or upright', 'edges in all directions'],
  horizontals: ['long level lines', null],
  verticals: ['long upright lines', null],
  border: ['one colour all around', null],
  busy: ['something everywhere', 'empty parts'],
  contrasty: ['contrast everywhere', 'little contrast'],
  wraps: ['opposite edges that fit', null],
  rows: ['rows like lines of text', null],
  jpeg: ['kept as JPEG', null],
  vector: ['a vector drawing', null],
};
const REASONS = 4;
/** Kinds that pictures of unknown makers are too often taken for (docs/pictures.md): they have to be surer. */
const DOUBTED: Partial<Record<Kind, number>> = { diagram: 0.7, map: 0.7 };
/** Pixels up to which a picture shows nothing. */
const NOTHING = 3;

/** What kind of picture it is, by its measures. */
export function kindOf(features: Features): KindJudgement {
  const side = Math.round(2 ** features.shortSide - 1);
  if (side <= NOTHING)
    return { kind: 'separator', sure: 1, reasons: [`${side} ${side === 1 ? 'pixel' : 'pixels'} thin`] };
  const { class: kind, sure, reasons: reason } = judge(forest as unknown as Forest<Kind, Feature>, features);
  const reasons = reason.flatMap(({ feature, high }) => MEANS[feature][high ? 0 : 1] ?? []);
  return { kind, sure: sure * (DOUBTED[kind] ?? 1), reasons: [...new Set(reasons)].slice(0, REASONS) };
}
