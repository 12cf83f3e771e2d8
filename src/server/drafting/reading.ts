import { UserError } from '@/core/model/user-error';
import { and, desc, eq, sql } from 'drizzle-orm';
import type { Decision, DraftItem, DraftPage, DraftingFigures, ReadingList, ReadingView } from '@/contract/drafting';
import { gapsIn, hasGaps } from '@/core/draft/draft';
import { draftLimitOf } from '@/core/house-style/house-style';
import { groupBy } from '@/core/group-by';
import { SURE } from '@/core/model/picture-analysis';
import { ownTitle } from '@/core/words/page-title';
import { announceChange } from '../changes';
import { raiseChanges } from '../catalogue/collection-state';
import { heard, nameOf } from '../catalogue/lines';
import { thumbOf } from '../catalogue/picture-rows';
import { pageOrder } from '../catalogue/page-order';
import { among } from '../db/bulk';
import { database, type Queryable } from '../db/database';
import { appearance, collection, page, picture, wording } from '../db/schema';
import { transactionWithJobs } from '../jobs/queue';
import { closeWordings, refreshPicturesOf } from '../wordings/history';
import { acceptDrafts, saveTexts } from '../wordings/wordings';
import { wakeRounds } from './rounds';

/** Drafts that are read in one go: more are fetched once these are decided. */
const MOST = 3_000;
/** Drafts that have to be read before the others of a round can be accepted together. */
export const SAMPLE = 5;

const inView = (collectionId: string, { round }: Pick<ReadingView, 'round'>) =>
  and(eq(wording.collectionId, collectionId), ...(round === null ? [] : [eq(wording.roundId, round)]))!;

/** Nothing was found in it, its drafter was sure, and it asks nothing. */
const IS_CLEAN = sql<boolean>`(jsonb_array_length(${wording.draft}->'faults') = 0 and not (${wording.draft}->>'doubtful')::boolean
  and jsonb_array_length(${wording.draft}->'uncertain') = 0
  and (${wording.draft}->'missing' = 'null'::jsonb or ${wording.text} = ''))`;

/** @param group only those of one series of look-alikes; null for all */
async function waiting(
  db: Queryable,
  collectionId: string,
  view: ReadingView,
  group: number | null = null,
): Promise<DraftItem[]> {
  const order = {
    surest: [desc(wording.grade), wording.id],
    doubtful: [wording.grade, wording.id],
    page: [pageOrder, appearance.position],
  }[view.order];
  const rows = await db
    .select({
      id: wording.id,
      text: wording.text,
      grade: wording.grade,
      clean: IS_CLEAN,
      picture: {
        id: picture.id,
        sha256: picture.sha256,
        thumb: picture.thumb,
        type: picture.type,
        broken: picture.broken,
        collectionId: picture.collectionId,
        analysisVersion: picture.analysisVersion,
        similarGroup: picture.similarGroup,
      },
    })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(
      and(
        inView(collectionId, view),
        eq(wording.state, 'draft'),
        eq(appearance.gone, false),
        ...(group === null ? [] : [eq(picture.similarGroup, group)]),
      ),
    )
    .orderBy(...order)
    .limit(MOST);
  return [...groupBy(rows, (r) => `${r.picture.id} ${r.text}`).values()].map((group) => {
    const [first] = group as [(typeof rows)[number]];
    const text = first.text ?? '';
    return {
      id: first.id,
      ids: group.map((g) => g.id),
      picture: first.picture.id,
      thumb: thumbOf(first.picture),
      grade: first.grade ?? 0,
      clean: first.clean && !hasGaps(text),
      text,
      similarGroup: first.picture.similarGroup,
    };
  });
}

/** The drafts that wait to be read, those of one picture with the same text as one, and what was decided so far. */
export async function readingList(collectionId: string, view: ReadingView): Promise<ReadingList> {
  const db = await database();
  const items = await waiting(db, collectionId, view);
  return { items, clean: items.filter((i) => i.clean).length, decided: await decidedIn(db, collectionId, view) };
}

async function decidedIn(
  db: Queryable,
  collectionId: string,
  view: Pick<ReadingView, 'round'>,
): Promise<ReadingList['decided']> {
  const changed = sql`(${wording.draft}->'accepted'->>'changed')::float8`;
  const [row] = await db
    .select({
      accepted:
        sql`count(*) filter (where ${wording.state} = 'accepted' and ${changed} = 0 and ${wording.text} <> '')`.mapWith(
          Number,
        ),
      edited:
        sql`count(*) filter (where ${wording.state} = 'accepted' and ${changed} > 0 and ${wording.text} <> '')`.mapWith(
          Number,
        ),
      decorative: sql`count(*) filter (where ${wording.state} = 'accepted' and ${wording.text} = '')`.mapWith(Number),
      rejected: sql`count(*) filter (where ${wording.state} = 'rejected' and ${wording.draft} ? 'rejected')`.mapWith(
        Number,
      ),
      // A draft for many places is read once.
      acts: sql`count(distinct coalesce(${wording.closedAct}, ${wording.act})) filter (where ${wording.state} = 'accepted'
        or (${wording.state} = 'rejected' and ${wording.draft} ? 'rejected'))`.mapWith(Number),
    })
    .from(wording)
    .where(and(inView(collectionId, view), sql`${wording.draft} is not null`));
  return row!;
}

/** One draft with all that is needed to decide about it; null where it waits no more. */
export async function draftPage(collectionId: string, id: number): Promise<DraftPage | null> {
  const db = await database();
  const [row] = await db
    .select({ wording, appearance, picture, page: { path: page.path, title: page.title, lang: page.lang } })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(wording.id, id), eq(wording.collectionId, collectionId), eq(wording.state, 'draft')));
  if (!row?.wording.draft) return null;
  const { wording: w, appearance: a, picture: p } = row;
  const [own] = await db.select({ style: collection.style }).from(collection).where(eq(collection.id, collectionId));
  const places = await db
    .select({ id: wording.appearanceId })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(
      and(
        eq(wording.state, 'draft'),
        eq(appearance.pictureId, p.id),
        eq(wording.text, w.text ?? ''),
        eq(appearance.gone, false),
      ),
    );
  const text = w.text ?? '';
  const { context } = a.reading;
  return {
    id: w.id,
    places: places.map((pl) => pl.id),
    appearanceId: a.id,
    picture: {
      ...{ id: p.id, width: p.width, height: p.height, reach: p.reach },
      name: nameOf(p, a.reading),
      src: `/found/${collectionId}/${p.id}`,
    },
    kind: p.kindSure >= SURE ? p.kind : null,
    page: { path: row.page.path, title: ownTitle(row.page.title) || row.page.path },
    lang: context.lang ?? row.page.lang,
    before: context.before,
    after: context.after,
    caption: context.caption,
    state: a.state,
    heard: heard(a.reading, a.words, a.title),
    text,
    gaps: gapsIn(text),
    limit: draftLimitOf(own!.style),
    record: row.wording.draft,
    at: w.at.toISOString(),
    alike: p.similarGroup === null ? [] : await alikeOf(db, collectionId, p.similarGroup, p.id),
  };
}

/** Look-alikes that are shown beside one. */
const ALIKE = 40;

async function alikeOf(db: Queryable, collectionId: string, group: number, except: number): Promise<DraftItem[]> {
  const items = await waiting(db, collectionId, { round: null, order: 'surest' }, group);
  return items.filter((i) => i.picture !== except).slice(0, ALIKE);
}

/**
 * Does with drafts what an editor has decided, under one act.
 *
 * @param ids of wordings; those that wait no more are left out
 * @returns at how many places
 * @throws Error in words when an accepted text still has gaps
 */
export async function decideDrafts(
  collectionId: string,
  ids: readonly number[],
  decision: Decision,
  act: string,
): Promise<number> {
  const db = await database();
  const rows = await db
    .select({ id: wording.id, appearanceId: wording.appearanceId })
    .from(wording)
    .where(and(eq(wording.collectionId, collectionId), among(wording.id, ids), eq(wording.state, 'draft')));
  const places = rows.map((r) => r.appearanceId);
  if (places.length === 0) return 0;
  switch (decision.kind) {
    case 'accept': {
      const count = await acceptDrafts(collectionId, places, act, { text: decision.text ?? null, by: decision.by });
      await wakeRounds(collectionId);
      return count;
    }
    case 'decorative': {
      const texts = places.map((appearanceId) => ({ appearanceId, text: '' }));
      return (await saveTexts({ collectionId, texts, act, by: 'person', isWhole: false })).places;
    }
    case 'reject': {
      const pictures = await transactionWithJobs(collectionId, async (tx) => {
        const own = rows.map((r) => r.id);
        const rejected = JSON.stringify({ rejected: { reason: decision.reason } });
        await tx
          .update(wording)
          .set({ draft: sql`${wording.draft} || ${rejected}::jsonb` })
          .where(among(wording.id, own));
        await raiseChanges(tx, collectionId);
        return refreshPicturesOf(tx, await closeWordings(tx, among(wording.id, own), act));
      });
      announceChange({ collectionId, pictures: pictures.map((p) => p.id) });
      return places.length;
    }
  }
}

/**
 * Accepts all drafts in which nothing was found, once a sample of them was read.
 *
 * @throws Error in words when fewer were read
 */
export async function acceptClean(
  collectionId: string,
  view: ReadingView,
  by: string | null,
  act: string,
): Promise<number> {
  const db = await database();
  const { acts: decided } = await decidedIn(db, collectionId, view);
  if (decided < SAMPLE) throw new UserError(`Read at least ${SAMPLE} drafts first; you have decided about ${decided}.`);
  const clean = (await waiting(db, collectionId, view)).filter((i) => i.clean);
  return decideDrafts(
    collectionId,
    clean.flatMap((i) => i.ids),
    { kind: 'accept', by },
    act,
  );
}

/** the results of drafts, by drafter, model and prompt. */
export async function draftingFigures(collectionId: string): Promise<DraftingFigures[]> {
  const db = await database();
  const origin = (key: string) => sql<string | null>`${wording.draft}->'origin'->>${sql.raw(`'${key}'`)}`;
  const changed = sql`(${wording.draft}->'accepted'->>'changed')::float8`;
  const rows = await db
    .select({
      drafter: origin('service').as('drafter'),
      model: origin('model').as('model'),
      prompt: origin('prompt').as('prompt'),
      reason: sql<
        string | null
      >`case when ${wording.state} = 'rejected' then ${wording.draft}->'rejected'->>'reason' end`.as('reason'),
      accepted: sql`count(*) filter (where ${wording.state} = 'accepted' and ${changed} = 0)`.mapWith(Number),
      edited: sql`count(*) filter (where ${wording.state} = 'accepted' and ${changed} > 0)`.mapWith(Number),
      changed:
        sql`coalesce(sum(${changed}) filter (where ${wording.state} = 'accepted' and ${changed} > 0), 0)`.mapWith(
          Number,
        ),
      rejected: sql`count(*) filter (where ${wording.state} = 'rejected' and ${wording.draft} ? 'rejected')`.mapWith(
        Number,
      ),
      waiting: sql`count(*) filter (where ${wording.state} = 'draft')`.mapWith(Number),
    })
    .from(wording)
    .where(and(eq(wording.collectionId, collectionId), sql`${wording.draft} is not null`))
    .groupBy(sql`1, 2, 3, 4`);
  return [...groupBy(rows, (r) => JSON.stringify([r.drafter, r.model, r.prompt])).values()].map((group) => {
    const [{ drafter, model, prompt }] = group as [(typeof rows)[number]];
    const sum = (key: 'accepted' | 'edited' | 'changed' | 'rejected' | 'waiting') =>
      group.reduce((total, r) => total + r[key], 0);
    return {
      ...{ drafter, model, prompt, accepted: sum('accepted'), edited: sum('edited'), rejected: sum('rejected') },
      changed: sum('edited') > 0 ? sum('changed') / sum('edited') : null,
      reasons: group.filter((r) => r.rejected > 0).map((r) => ({ reason: r.reason, drafts: r.rejected })),
      waiting: sum('waiting'),
    };
  });
}
