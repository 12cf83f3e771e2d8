import type { Message } from '../model/message';
import type { PictureMetadata } from './metadata';

/** What looking at a picture tells beside what rules need: for the person who words it. */
export interface PictureDetails {
  /** What decided its kind, in a few words each. */
  kindReasons: Message[];
  /** Frames; 1 for a still. */
  frames: number;
  /** Share of it that is see-through, from 0 to 1. */
  clear: number;
  orientation: Orientation;
  metadata: PictureMetadata;
}

export type Orientation = 'upright' | 'level' | 'square';

/** Common practice: within five percent it counts as square. */
export function orientationOf(width: number, height: number): Orientation {
  if (width > height * 1.05) return 'level';
  return height > width * 1.05 ? 'upright' : 'square';
}
