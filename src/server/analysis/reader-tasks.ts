import type { PageReading } from '@/core/appearance';
import type { StyleSheet } from '@/core/html/backgrounds';

/** What the reader process is asked, and answers. */
export type ReaderTask =
  | { id: number; kind: 'page'; bytes: Buffer; transport?: string; sheets: StyleSheet[] }
  | { id: number; kind: 'picture'; bytes: Buffer };

export interface PictureReading {
  sha256: string;
  /** By signature; null when it is no picture. */
  type: string | null;
  bytes: number;
  width: number | null;
  height: number | null;
  broken: string | null;
  lighter: number | null;
  colours: string[];
  /** WebP, at most 236 × 176 pixels; null where the library does not draw the type. */
  thumb: Buffer | null;
}

export type ReaderAnswer =
  | { id: number; kind: 'page'; reading: PageReading }
  | { id: number; kind: 'picture'; reading: PictureReading }
  | { id: number; kind: 'error'; message: string };
