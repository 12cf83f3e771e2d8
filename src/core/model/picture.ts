import type { Message } from './message';
import type { PictureAnalysis } from './picture-analysis';

/** One distinct image by its content, as rules know it. */
export interface Picture {
  id: string;
  /** Null for pictures whose bytes could not be had. */
  sha256: string | null;
  /** Media type by signature; null when it is not a picture. */
  type: string | null;
  bytes: number | null;
  width: number | null;
  height: number | null;
  /** The address or path it was first found at. */
  src: string | null;
  /** Why it cannot be shown, in words; null when it can. */
  broken: Message | null;
  /** Why Detto did not look at it (robots.txt, another host), in words; null when it did, or tried to. */
  unread: Message | null;
  /** What a re-encoded copy weighs, in bytes, where that was measured. */
  smallerCopyBytes: number | null;
  /** What the analysis found; null until it was analysed. */
  analysis: PictureAnalysis | null;
  /** A long description is kept for it, which need not be in its pages yet. */
  hasLongDescription?: boolean;
}
