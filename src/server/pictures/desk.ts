import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { DeskPicture } from '@/contract/desk';
import type { Purpose } from '@/core/appearance';
import { ownTitle } from '@/core/words/page-title';
import type { Collection } from '../collections/collections';
import { database } from '../db/database';
import { appearance, finding, page, picture, pictureSource, wording } from '../db/schema';
import { draftFor } from '../wordings/wordings';
import { heard, nameOf } from './lines';
import { toPicture } from './picture-rows';

/** Of a picture that stands on thousands of pages, the Desk lists so many places. */
const PLACES_SHOWN = 200;

/** Everything the Desk needs for one picture; null when the collection has no such picture. */
export async function deskPicture(
  c: Collection,
  pictureId: number,
  placeId: number | null,
): Promise<DeskPicture | null> {
  const db = await database();
  const [row] = await db
    .select()
    .from(picture)
    .where(and(eq(picture.id, pictureId), eq(picture.collectionId, c.id)));
  if (!row) return null;
  const ofPicture = and(eq(appearance.pictureId, pictureId), eq(appearance.gone, false));
  const rows = await db
    .select({ appearance, page: { path: page.path, title: page.title, lang: page.lang } })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(ofPicture)
    .orderBy(
      sql`${appearance.id} = ${placeId ?? 0} desc`,
      sql`${appearance.state} <> 'unsaid'`,
      page.path,
      appearance.position,
    )
    .limit(PLACES_SHOWN);
  if (rows.length === 0) return null;
  const [{ total } = { total: 0 }] = await db
    .select({ total: sql`count(*)`.mapWith(Number) })
    .from(appearance)
    .where(ofPicture);
  const ids = rows.map((r) => r.appearance.id);
  const findings = await db.select().from(finding).where(inArray(finding.appearanceId, ids)).orderBy(finding.id);
  const history = await db.select().from(wording).where(inArray(wording.appearanceId, ids)).orderBy(desc(wording.id));
  const sources = await db
    .select({ address: pictureSource.address })
    .from(pictureSource)
    .where(eq(pictureSource.pictureId, pictureId));
  const places = rows.map(({ appearance: a, page: p }) => ({
    id: a.id,
    page: { ...p, title: ownTitle(p.title) || p.path },
    reading: a.reading,
    heard: heard(a.reading, a.words),
    state: a.state,
    purpose: a.purpose as Purpose,
    purposeSettled: a.purposeSettled,
    evidence: a.evidence,
    worded: a.words !== null,
    waitingDraft: history.find((w) => w.appearanceId === a.id && w.state === 'draft')?.text ?? null,
    findings: findings
      .filter((f) => f.appearanceId === a.id)
      .map(({ rule, outcome, message, mends }) => ({ rule, outcome, message, mends })),
    history: history
      .filter((w) => w.appearanceId === a.id)
      .map(({ id, text, by, state, act, at }) => ({ id, text, by, state, act, at: at.toISOString() })),
  }));
  const shown = places[0]!;
  return {
    picture: { ...toPicture(row), colours: row.colours, unread: row.unread, thumb: row.thumb },
    name: nameOf(row, shown.reading),
    addresses: sources.map((s) => s.address).filter((a) => !/^(?:inline|data):/.test(a)),
    places,
    placesTotal: total,
    draft: await draftFor(db, shown.id),
    style: c.style,
  };
}
