import type { Context, Region } from '../../model/appearance';
import { collapse, isBlank } from '../../white-space';

/** How much of the passage is kept on each side, in UTF-16 code units. */
const PASSAGE = 320;

/** A run of text of a page. */
export interface Chunk {
  text: string;
  /** Number of the block of text it stands in. */
  block: number;
  heading: boolean;
  region: Region | null;
}

/** Where a picture stands in the text of its page. */
export interface Place {
  /** How many chunks of text stand before it. */
  at: number;
  /** Number of the block of text that it stands in. */
  block: number;
  region: Region | null;
}

/**
 * What is read just before and just after the picture: its own block of text whole, then further blocks
 * until a heading, the end of its region, or until there is enough.
 */
export function passageAround(
  found: Place,
  chunks: readonly Chunk[],
): Pick<Context, 'before' | 'after' | 'nextHeading'> {
  const gather = (from: number, step: 1 | -1) => {
    let text = '';
    let block = found.block;
    for (let i = from; i >= 0 && i < chunks.length; i += step) {
      const chunk = chunks[i]!;
      if ((chunk.heading && chunk.block !== found.block) || chunk.region !== found.region) break;
      if (chunk.block !== block) {
        if (text.trim().length > PASSAGE / 3) break;
        block = chunk.block;
        text = step < 0 ? ` ${text}` : `${text} `;
      }
      text = step < 0 ? chunk.text + text : text + chunk.text;
      if (text.length > PASSAGE) break;
    }
    return collapse(text);
  };
  const before = gather(found.at - 1, -1);
  const after = gather(found.at, 1);
  const next = chunks.slice(found.at, found.at + 8).find((c) => !isBlank(c.text));
  const heading = next?.heading && next.block !== found.block ? next.block : null;
  return {
    nextHeading:
      heading === null
        ? null
        : collapse(
            chunks
              .slice(found.at, found.at + 40)
              .filter((c) => c.block === heading)
              .map((c) => c.text)
              .join(''),
          ),
    before: before.length > PASSAGE ? `…${before.slice(-PASSAGE).replace(/^\S*\s/, '')}` : before,
    after: after.length > PASSAGE ? `${after.slice(0, PASSAGE).replace(/\s\S*$/, '')}…` : after,
  };
}
