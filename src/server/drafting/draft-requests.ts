import { and, eq } from 'drizzle-orm';
import type { Appearance, Purpose } from '@/core/model/appearance';
import { withWords } from '@/core/model/wording';
import { countedThings } from '@/core/picture/things';
import { ownTitle } from '@/core/words/page-title';
import { readFile } from '../blobs/blobs';
import { toPicture } from '../catalogue/picture-rows';
import type { Queryable } from '../db/database';
import { appearance, finding, page, picture } from '../db/schema';
import type { DraftRequest } from './drafter';
import { sharedNamesOf } from './shared-names';

/**
 * What a drafter is given for an appearance; null where there is no such appearance.
 *
 * @param withPixels whether to read the picture's file
 */
export async function draftRequest(
  tx: Queryable,
  appearanceId: number,
  withPixels: boolean,
): Promise<DraftRequest | null> {
  const [row] = await tx
    .select({ appearance, picture, lang: page.lang })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(eq(appearance.id, appearanceId));
  if (!row) return null;
  const others = await tx
    .select({
      id: appearance.id,
      reading: appearance.reading,
      words: appearance.words,
      purpose: appearance.purpose,
      lang: page.lang,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.pictureId, row.picture.id), eq(appearance.gone, false)));
  const wrong = await tx
    .select({ id: finding.appearanceId })
    .from(finding)
    .where(and(eq(finding.pictureId, row.picture.id), eq(finding.outcome, 'failed'), eq(finding.ignored, false)));
  const failing = new Set(wrong.map((f) => f.id));
  const elsewhere = others
    .filter((o) => o.id !== appearanceId && o.purpose === row.appearance.purpose && !failing.has(o.id))
    // What is said in another language has to be translated first.
    .filter((o) => (o.reading.context.lang ?? o.lang) === (row.appearance.reading.context.lang ?? row.lang))
    .map((o) => heardAfter(o.reading, o.words))
    .filter((w) => w !== '');
  const { sha256 } = row.picture;
  return {
    known: {
      appearance: row.appearance.reading,
      purpose: row.appearance.purpose as Purpose,
      purposeIsSure: row.appearance.purposeSettled || row.appearance.purposeSure >= SURE,
      reach: row.picture.reach,
      picture: toPicture(row.picture),
      colours: row.picture.colours,
      things: countedThings(row.picture.recognition?.things ?? []),
      targetTitle: await titleOf(tx, row.appearance.collectionId, row.appearance.target),
      sharedNames: await sharedNamesOf(tx, row.appearance.collectionId),
      elsewhere,
    },
    language: row.appearance.reading.context.lang ?? row.lang,
    pixels: withPixels && sha256 !== null ? await readFile(sha256) : null,
  };
}

/** From so sure on, a proposed purpose counts as what the picture does. */
const SURE = 0.6;

const heardAfter = (reading: Appearance, words: string | null) =>
  (words === null ? reading : withWords(reading, words)).accessible.name;

/** The title of the page that a link leads to, where that page was surveyed. */
async function titleOf(tx: Queryable, collectionId: string, target: string | null): Promise<string | null> {
  if (!target) return null;
  const [row] = await tx
    .select({ title: page.title })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), eq(page.path, target)));
  return row ? ownTitle(row.title) || null : null;
}
