import { alias } from 'drizzle-orm/pg-core';
import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { DeskPicture } from '@/contract/desk';
import { creditFrom } from '@/core/model/credit';
import { answersFor } from '@/core/purpose/answers';
import { RULES } from '@/core/rules';
import { limitOf } from '@/core/house-style/house-style';
import { withTexts, withWords } from '@/core/model/wording';
import { ownTitle } from '@/core/words/page-title';
import { openDictionaries } from '../audit/audit-worker';
import type { Collection } from '../catalogue/collections';
import { database } from '../db/database';
import { appearance, finding, page, picture, pictureSource, ignoredFinding, wording } from '../db/schema';
import { openConflicts } from '../wordings/conflicts';
import { fieldTextsOf } from '../wordings/field-texts';
import { fileNameText, pictureTexts, placeTexts } from './desk-texts';
import { draftFor } from '../drafting/drafts';
import { similarOf, detailsOf } from './desk-picture';
import { creditHistory } from '../catalogue/credit';
import { heard, nameOf, purposeNow } from '../catalogue/lines';
import { pageOrder } from '../catalogue/page-order';
import { toPicture } from '../catalogue/picture-rows';

/** Of a picture that stands on thousands of pages, the Desk lists so many places. */
const PLACES_SHOWN = 200;

/**
 * Everything the Desk needs for one picture; null when the collection has no such picture.
 *
 * @param c as it was read just before: what is saved in between is newer than what is shown
 */
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
  const target = alias(page, 'target');
  const rows = await db
    .select({
      appearance,
      page: {
        path: page.path,
        format: page.format,
        document: page.document,
        title: page.title,
        lang: page.lang,
        description: page.description,
        headings: page.headings,
        directives: page.directives,
      },
      targetTitle: target.title,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .leftJoin(target, and(eq(target.collectionId, appearance.collectionId), eq(target.path, appearance.target)))
    .where(ofPicture)
    .orderBy(
      sql`${appearance.id} = ${placeId ?? 0} desc`,
      sql`${appearance.state} <> 'missing'`,
      // What fails comes before what only could be better, so that the words one writes go where they are wanted.
      sql`not exists (select 1 from ${finding} where ${finding.appearanceId} = ${appearance.id} and not ${finding.ignored} and ${finding.outcome} = 'failed')`,
      pageOrder,
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
  const ignored = await db
    .selectDistinctOn([ignoredFinding.appearanceId, ignoredFinding.rule])
    .from(ignoredFinding)
    .where(and(inArray(ignoredFinding.appearanceId, ids), eq(ignoredFinding.undone, false)))
    .orderBy(ignoredFinding.appearanceId, ignoredFinding.rule, desc(ignoredFinding.id));
  const history = await db.select().from(wording).where(inArray(wording.appearanceId, ids)).orderBy(desc(wording.id));
  const sources = await db
    .select({ address: pictureSource.address })
    .from(pictureSource)
    .where(eq(pictureSource.pictureId, pictureId));
  const known = toPicture(row);
  const credit = creditFrom(row.credit, row.rights);
  const texts = await fieldTextsOf(db, pictureId, ids);
  const places = rows.map(({ appearance: a, page: p, targetTitle }) => ({
    id: a.id,
    page: p,
    pageName: ownTitle(p.title) || p.path,
    targetTitle,
    isThumbnail: a.isThumbnail,
    reading: a.reading,
    heard: heard(a.reading, a.words, a.title),
    ...placeTexts(a, texts, credit),
    state: a.state,
    purpose: purposeNow(a),
    purposeSettled: a.purposeSettled,
    purposeSure: a.purposeSure,
    evidence: a.evidence,
    answers: answersFor({ appearance: a.reading, picture: known, purpose: purposeNow(a) }),
    worded: a.words !== null,
    waitingDraft: history.find((w) => w.appearanceId === a.id && w.state === 'draft')?.text ?? null,
    findings: findings
      .filter((f) => f.appearanceId === a.id && !f.ignored)
      .map(({ rule, outcome, message, fixes, also, spanStart, spanEnd }) => ({
        rule,
        outcome,
        message,
        fixes,
        also,
        ...(spanStart === null ? {} : { span: { start: spanStart, end: spanEnd! } }),
      })),
    ignored: ignored
      .filter(
        (s) =>
          findings.some((f) => f.ignored && f.appearanceId === a.id && f.rule === s.rule) && s.appearanceId === a.id,
      )
      .map(({ rule, reason, by, at }) => ({ rule, reason, by, at: at.toISOString() })),
    history: history
      .filter((w) => w.appearanceId === a.id)
      .map(({ id, text, by, state, draft, act, at }) => ({ id, text, by, state, draft, act, at: at.toISOString() })),
  }));
  const shown = places[0]!;
  const shownContext = { ...shown, id: String(shown.id), picture: known };
  // Whoever opens the Desk is about to write.
  openDictionaries({ ...shownContext, appearance: withWords(shown.reading, shown.page.title || known.id) });
  return {
    revision: c.revision,
    conflicts: await openConflicts(db, c.id, ids),
    picture: { ...known, colours: row.colours },
    details: detailsOf(row),
    similar: await similarOf(db, row),
    ...pictureTexts(row, [rows[0]!.appearance, ...rows.slice(1).map((r) => r.appearance)], texts),
    fileName: fileNameText(
      c,
      row,
      { ...shownContext, appearance: withTexts(shown.reading, rows[0]!.appearance) },
      texts,
    ),
    credit,
    creditHistory: await creditHistory(db, c.id, pictureId),
    name: nameOf(row, shown.reading),
    addresses: sources.map((s) => s.address).filter((a) => !/^(?:inline|data):/.test(a)),
    places,
    placesTotal: total,
    draft: await draftFor(c.id, shown.id),
    style: c.style,
    phrases: c.phrases,
    rules: Object.fromEntries(RULES.map((r) => [r.id, { title: r.title, alone: r.scope === 'appearance' }])),
    limit: limitOf(c.style),
  };
}
