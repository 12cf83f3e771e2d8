import forest from './kinds.json' with { type: 'json' };
import type { Feature, Features } from './features';
import { judge, type Forest } from './forest';
import type { Message } from '../model/message';
import type { Kind } from '../model/picture-analysis';

export interface KindJudgement {
  kind: Kind;
  /** From 0 to 1. */
  sure: number;
  /** What decided, the weightiest first, in a few words each. */
  reasons: Message[];
}

/** Which end of a measure is worth a word: the other would only say what the picture is not. */
const SAYS: Record<Feature, 'high' | 'low' | 'both'> = {
  area: 'both',
  shortSide: 'low',
  aspect: 'both',
  elongation: 'both',
  square: 'high',
  clear: 'high',
  halfClear: 'high',
  colours: 'both',
  coloursPerPixel: 'both',
  mainColour: 'high',
  twoColours: 'both',
  eightColours: 'both',
  even: 'both',
  soft: 'high',
  hard: 'both',
  entropy: 'both',
  saturation: 'both',
  saturationSpread: 'both',
  grey: 'high',
  white: 'high',
  dark: 'both',
  edges: 'both',
  upright: 'both',
  horizontals: 'high',
  verticals: 'high',
  border: 'high',
  busy: 'both',
  contrasty: 'both',
  wraps: 'high',
  rows: 'high',
  jpeg: 'high',
  vector: 'high',
};
const REASONS = 4;
/** Kinds that pictures of unknown makers are too often taken for (docs/pictures.md): they have to be surer. */
const DOUBTED: Partial<Record<Kind, number>> = { diagram: 0.7, map: 0.7 };
/** Pixels up to which a picture shows nothing. */
const NOTHING = 3;

/** How sure a photo of one tone is. */
const TONED = 0.7;

/**
 * Whether a picture is a photograph in grey or sepia, or an old scan: one tone, soft everywhere, of many shades. The forest
 * has seen hardly any; the bounds part 60 photographs made grey, sepia and faded from screens and charts made grey.
 */
const isTonedPhoto = (f: Features): boolean =>
  (f.grey >= 0.9 || f.saturationSpread <= 0.08) &&
  f.soft >= 0.35 &&
  f.even <= 0.4 &&
  f.entropy >= 5.5 &&
  f.mainColour <= 0.35 &&
  f.wraps < 0.9;

/** What kind of picture it is, by its measures. */
export function kindOf(features: Features): KindJudgement {
  const side = Math.round(2 ** features.shortSide - 1);
  if (side <= NOTHING) return { kind: 'separator', sure: 1, reasons: [{ id: 'kind-reason.thin', values: { side } }] };
  const { class: judged, sure: share, reasons: reason } = judge(forest as unknown as Forest<Kind, Feature>, features);
  const toned = isTonedPhoto(features);
  const kind = toned ? 'photo' : judged;
  const sure = toned ? Math.max(judged === 'photo' ? share : 0, TONED) : share;
  const ids = toned
    ? ['kind-reason.soft.high', 'kind-reason.entropy.high']
    : reason.flatMap(({ feature, high }) => {
        const end = high ? 'high' : 'low';
        return SAYS[feature] === 'both' || SAYS[feature] === end ? [`kind-reason.${feature}.${end}`] : [];
      });
  const reasons = [...new Set(ids)].slice(0, REASONS).map((id) => ({ id }));
  return { kind, sure: sure * (DOUBTED[kind] ?? 1), reasons };
}
