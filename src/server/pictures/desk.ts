import { and, desc, eq } from 'drizzle-orm';
import type { Appearance, Picture, Purpose, State } from '@/core/appearance';
import type { RuleStyle } from '@/core/audit';
import type { Draft } from '@/core/draft/draft';
import type { Outcome } from '@/core/rules/rule';
import type { Collection } from '../collections/collections';
import { database } from '../db/database';
import { appearance, finding, page, picture, pictureSource, wording } from '../db/schema';
import { draftFor } from '../wordings/wordings';
import { heard, nameOf } from './lines';
import { toPicture } from './picture-rows';

export interface DeskPlace {
  id: number;
  page: { path: string; title: string; lang: string | null };
  /** As surveyed, without the words kept since. */
  reading: Appearance;
  /** As it will be heard. */
  heard: string;
  state: State;
  purpose: Purpose;
  purposeSettled: boolean;
  evidence: string[];
  /** Kept words wait for delivery. */
  worded: boolean;
  findings: { rule: string; outcome: Outcome; message: string }[];
  history: { id: number; text: string | null; by: string; state: string; act: string; at: string }[];
}

export interface DeskPicture {
  picture: Picture & { colours: string[]; unread: string | null; thumb: string | null };
  name: string;
  addresses: string[];
  places: DeskPlace[];
  /** For the place that is shown first, or asked for. */
  draft: Draft | null;
  style: RuleStyle;
}

/** Everything the Desk needs for one picture; null when the collection has no such picture. */
export async function deskPicture(c: Collection, pictureId: number, placeId: number | null): Promise<DeskPicture | null> {
  const db = await database();
  const [row] = await db
    .select()
    .from(picture)
    .where(and(eq(picture.id, pictureId), eq(picture.collectionId, c.id)));
  if (!row) return null;
  const rows = await db
    .select({ appearance, page: { path: page.path, title: page.title, lang: page.lang } })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.pictureId, pictureId), eq(appearance.gone, false)))
    .orderBy(page.path, appearance.position);
  if (rows.length === 0) return null;
  const findings = await db.select().from(finding).where(eq(finding.pictureId, pictureId)).orderBy(finding.id);
  const history = await db
    .select({ wording })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(eq(appearance.pictureId, pictureId))
    .orderBy(desc(wording.id));
  const sources = await db
    .select({ address: pictureSource.address })
    .from(pictureSource)
    .where(eq(pictureSource.pictureId, pictureId));
  const places = rows.map(({ appearance: a, page: p }) => ({
    id: a.id,
    page: p,
    reading: a.reading,
    heard: heard(a.reading, a.words),
    state: a.state,
    purpose: a.purpose as Purpose,
    purposeSettled: a.purposeSettled,
    evidence: a.evidence,
    worded: a.words !== null,
    findings: findings
      .filter((f) => f.appearanceId === a.id)
      .map(({ rule, outcome, message }) => ({ rule, outcome, message })),
    history: history
      .filter(({ wording: w }) => w.appearanceId === a.id)
      .map(({ wording: w }) => ({ ...w, at: w.at.toISOString() })),
  }));
  const shown = places.find((p) => p.id === placeId) ?? places.find((p) => p.state === 'unsaid') ?? places[0]!;
  return {
    picture: { ...toPicture(row), colours: row.colours, unread: row.unread, thumb: row.thumb },
    name: nameOf(row, shown.reading),
    addresses: sources.map((s) => s.address).filter((a) => !/^(?:inline|data):/.test(a)),
    places: [shown, ...places.filter((p) => p !== shown)],
    draft: await draftFor(db, shown.id),
    style: c.style,
  };
}
