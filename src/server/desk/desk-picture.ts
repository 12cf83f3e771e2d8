import { and, asc, eq, ne, sql } from 'drizzle-orm';
import type { DeskLike, DeskSight } from '@/contract/desk';
import { differences, type Distinct } from '@/core/picture/differences';
import { countingLines } from '@/core/picture/recognised';
import type { MetadataField } from '@/core/picture/metadata';
import { SURE } from '@/core/model/picture-analysis';
import { PERUSAL } from '../analysis/recognition';
import type { Queryable } from '../db/database';
import { appearance, page, picture } from '../db/schema';
import { heard, nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';

type Row = typeof picture.$inferSelect;

/** Look-alikes that the Desk shows. */
const SHOWN = 12;

/** What was seen in a picture; null until somebody looked. */
export function sightOf({ kind, kindSure, sight, inside, perused, broken }: Row): DeskSight | null {
  if (!sight) return null;
  return {
    kind: kind ? { kind, sure: kindSure >= SURE, because: sight.because } : null,
    frames: sight.frames,
    clear: sight.clear >= 0.02,
    orientation: sight.orientation,
    metadata: Object.entries(sight.metadata).map(([field, said]) => ({ field: field as MetadataField, ...said })),
    lines: countingLines(inside?.lines ?? [], kind === 'photo'),
    things: inside?.things ?? [],
    faces: inside?.faces ?? null,
    waits: perused < PERUSAL && kind !== null && kind !== 'separator' && broken === null,
  };
}

const distinct = (p: Row): Distinct => ({ ...p, text: p.textInside });

/** The series that a picture belongs to, with what each says and in what it differs; null for one that stands alone. */
export async function alikeOf(
  db: Queryable,
  own: Row,
): Promise<{ series: number; total: number; members: DeskLike[] } | null> {
  if (own.series === null) return null;
  const rows = await db
    .selectDistinctOn([picture.seriesRank, picture.id], {
      picture,
      reading: appearance.reading,
      words: appearance.words,
      state: appearance.state,
      lang: page.lang,
    })
    .from(picture)
    .innerJoin(appearance, and(eq(appearance.pictureId, picture.id), eq(appearance.gone, false)))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(picture.collectionId, own.collectionId), eq(picture.series, own.series), ne(picture.id, own.id)))
    // Of a picture's places, one that says something.
    .orderBy(asc(picture.seriesRank), asc(picture.id), sql`${appearance.state} <> 'said'`, appearance.id)
    .limit(SHOWN);
  const members = rows.map(({ picture: p, reading, words, state, lang }) => ({
    id: p.id,
    name: nameOf(p, reading),
    thumb: thumbOf(p),
    heard: heard(reading, words),
    state,
    lang: reading.lang ?? lang,
    same: p.family !== null && p.family === own.family,
    differs: differences(distinct(own), distinct(p)),
  }));
  return { series: own.series, total: own.seriesSize, members };
}
