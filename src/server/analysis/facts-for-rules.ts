import { rightsIn, wordsIn } from '@/core/picture/metadata';
import { UNSEEN, type Seen } from '@/core/model/picture-analysis';
import type { PictureLook } from '../workers/tasks';

/** What rules need to know of a look; null where there was none. */
export function seenFrom(look: PictureLook | undefined): Seen | null {
  if (!look) return null;
  const words = look.sight ? wordsIn(look.sight.metadata) : null;
  return {
    ...UNSEEN,
    kind: look.kind?.kind ?? null,
    sure: look.kind?.sure ?? 0,
    fields: look.likeness?.fields ?? null,
    words: words?.words ?? null,
    wordsFrom: words?.from ?? null,
    rights: look.sight ? rightsIn(look.sight.metadata) : null,
  };
}
