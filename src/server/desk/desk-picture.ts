import { and, asc, eq, ne, sql } from 'drizzle-orm';
import type { DeskLike, DeskDetails } from '@/contract/desk';
import { differences, type Distinct } from '@/core/picture/differences';
import { countingLines } from '@/core/picture/recognised';
import type { MetadataField } from '@/core/picture/metadata';
import { SURE } from '@/core/model/picture-analysis';
import { RECOGNITION_VERSION } from '../analysis/recognition';
import type { Queryable } from '../db/database';
import { appearance, page, picture } from '../db/schema';
import { heard, nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';

type Row = typeof picture.$inferSelect;

/** Look-alikes that the Desk shows. */
const SHOWN = 12;

/** What was seen in a picture; null until somebody looked. */
export function detailsOf({
  kind,
  kindSure,
  details,
  recognition,
  recognitionVersion,
  broken,
}: Row): DeskDetails | null {
  if (!details) return null;
  return {
    kind: kind ? { kind, sure: kindSure >= SURE, reasons: details.kindReasons } : null,
    frames: details.frames,
    clear: details.clear >= 0.02,
    orientation: details.orientation,
    metadata: Object.entries(details.metadata).map(([field, described]) => ({
      field: field as MetadataField,
      ...described,
    })),
    lines: countingLines(recognition?.lines ?? [], kind === 'photo'),
    things: recognition?.things ?? [],
    faces: recognition?.faces ?? null,
    waits: recognitionVersion < RECOGNITION_VERSION && kind !== null && kind !== 'separator' && broken === null,
  };
}

const distinct = (p: Row): Distinct => ({ ...p, text: p.recognisedText });

/** The series that a picture belongs to, with what each says and in what it differs; null for one that stands alone. */
export async function similarOf(
  db: Queryable,
  own: Row,
): Promise<{ similarGroup: number; total: number; members: DeskLike[] } | null> {
  if (own.similarGroup === null) return null;
  const rows = await db
    .selectDistinctOn([picture.similarRank, picture.id], {
      picture,
      reading: appearance.reading,
      words: appearance.words,
      state: appearance.state,
      lang: page.lang,
    })
    .from(picture)
    .innerJoin(appearance, and(eq(appearance.pictureId, picture.id), eq(appearance.gone, false)))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(
      and(
        eq(picture.collectionId, own.collectionId),
        eq(picture.similarGroup, own.similarGroup),
        ne(picture.id, own.id),
      ),
    )
    // Of a picture's places, one that says something.
    .orderBy(asc(picture.similarRank), asc(picture.id), sql`${appearance.state} <> 'described'`, appearance.id)
    .limit(SHOWN);
  const members = rows.map(({ picture: p, reading, words, state, lang }) => ({
    id: p.id,
    name: nameOf(p, reading),
    thumb: thumbOf(p),
    heard: heard(reading, words),
    state,
    lang: reading.context.lang ?? lang,
    same: p.duplicateGroup !== null && p.duplicateGroup === own.duplicateGroup,
    differs: differences(distinct(own), distinct(p)),
  }));
  return { similarGroup: own.similarGroup, total: own.similarCount, members };
}
