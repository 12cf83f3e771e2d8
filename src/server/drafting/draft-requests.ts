import { and, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import { draftLimitOf } from '@/core/house-style/house-style';
import type { RuleStyle } from '@/core/rules/audit';
import type { Appearance, Purpose } from '@/core/model/appearance';
import { withWords } from '@/core/model/wording';
import { countedThings } from '@/core/picture/things';
import { isFormula } from '@/core/purpose/formula';
import { isTex } from '@/core/words/tex';
import { ownTitle } from '@/core/words/page-title';
import { toPicture } from '../catalogue/picture-rows';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, collection, page, picture, wording } from '../db/schema';
import { formulaLanguage, openFormulaSpeech } from '../language/formula-speech';
import type { DraftRequest } from './drafter';
import { metadataWords } from './metadata-words';
import { instructionsOf } from './prompts';
import { sharedNamesOf } from './shared-names';

/** From so sure on, a proposed purpose counts as what the picture does. */
const SURE = 0.6;
/** Places of one picture whose words are looked at. */
const PLACES = 12;

/**
 * What a drafter is given for some appearances, in their order; those that are not there any more are left out. A few queries,
 * however many there are.
 */
export async function draftRequests(
  tx: Queryable,
  collectionId: string,
  ids: readonly number[],
): Promise<DraftRequest[]> {
  const rows = await tx
    .select({ appearance, picture, page: { title: page.title, lang: page.lang } })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.collectionId, collectionId), among(appearance.id, ids), eq(appearance.gone, false)));
  if (rows.length === 0) return [];
  const pictures = [...new Set(rows.map((r) => r.picture.id))];
  const words = await wordsElsewhere(tx, pictures);
  const titles = await titlesOf(tx, collectionId, [...new Set(rows.flatMap((r) => r.appearance.target ?? []))]);
  const groups = [...new Set(rows.flatMap((r) => r.picture.similarGroup ?? []))];
  const alike = groups.length > 0 ? await acceptedAlike(tx, collectionId, groups) : [];
  const sharedNames = await sharedNamesOf(tx, collectionId);
  const { style, common } = await styleOf(tx, collectionId);
  const { instructions } = await instructionsOf(tx, collectionId);
  const examples = await examplesOf(tx, collectionId);
  const limit = draftLimitOf(style);
  const spoken = await formulasOf(rows.map((r) => ({ reading: r.appearance.reading, language: languageOf(r) })));
  const byId = new Map(
    rows.map((row, i): [number, DraftRequest] => {
      const { appearance: a, picture: p } = row;
      const language = languageOf(row);
      const targetTitle = a.target === null ? null : (titles.get(a.target) ?? null);
      return [
        a.id,
        {
          appearanceId: a.id,
          known: {
            appearance: a.reading,
            purpose: a.purpose as Purpose,
            purposeIsSure: a.purposeSettled || a.purposeSure >= SURE,
            purposeEvidence: a.evidence,
            purposeSure: a.purposeSettled ? 1 : a.purposeSure,
            language,
            reach: p.reach,
            picture: toPicture(p),
            colours: p.colours,
            things: countedThings(p.recognition?.things ?? []),
            targetTitle: targetTitle !== null && common.has(targetTitle) ? null : targetTitle && ownTitle(targetTitle),
            sharedNames,
            elsewhere: (words.get(p.id) ?? [])
              .filter((w) => w.id !== a.id && w.purpose === a.purpose && w.language === language)
              .map((w) => w.text),
            lookAlike:
              alike.find((w) => w.group === p.similarGroup && w.picture !== p.id && w.language === language)?.text ??
              null,
            formula: spoken[i] ?? null,
            limit,
          },
          about: {
            pageTitle: row.page.title,
            style,
            instructions,
            examples,
            metadata: metadataWords(p.details?.metadata ?? {}),
          },
          current: heardAfter(a.reading, a.words) || null,
          sha256: p.sha256,
        },
      ];
    }),
  );
  return ids.flatMap((id) => byId.get(id) ?? []);
}

const languageOf = (row: { appearance: { reading: Appearance }; page: { lang: string | null } }): string | null =>
  row.appearance.reading.context.lang ?? row.page.lang;

const heardAfter = (reading: Appearance, words: string | null) =>
  (words === null ? reading : withWords(reading, words)).accessible.name;

interface KnownWords {
  id: number;
  text: string;
  purpose: string;
  language: string | null;
}

/** What pictures are given to be heard at their places, those that people wrote first; not where a rule fails them. */
async function wordsElsewhere(tx: Queryable, pictures: readonly number[]): Promise<Map<number, KnownWords[]>> {
  const rows = (
    (await tx.execute(sql`
      select picture_id, id, purpose, reading, words, lang from (
        select a.picture_id, a.id, a.purpose, a.reading, a.words, g.lang,
          row_number() over (partition by a.picture_id order by a.words is null, a.id) rank
        from appearance a join page g on g.id = a.page_id
        where a.picture_id = any(${sql.param([...pictures])}::int[]) and not a.gone and a.state = 'described'
          and not exists (select from finding f where f.appearance_id = a.id and f.outcome = 'failed' and not f.ignored)
      ) a where rank <= ${PLACES}`)) as unknown as {
      rows: {
        picture_id: number;
        id: number;
        purpose: string;
        reading: Appearance | string;
        words: string | null;
        lang: string | null;
      }[];
    }
  ).rows;
  const out = new Map<number, KnownWords[]>();
  for (const row of rows) {
    const reading = typeof row.reading === 'string' ? (JSON.parse(row.reading) as Appearance) : row.reading;
    const text = heardAfter(reading, row.words);
    if (text === '') continue;
    const known = { id: row.id, text, purpose: row.purpose, language: reading.context.lang ?? row.lang };
    out.set(row.picture_id, [...(out.get(row.picture_id) ?? []), known]);
  }
  return out;
}

/** Words of pictures of series of look-alikes that no rule fails, those that people accepted first. */
async function acceptedAlike(tx: Queryable, collectionId: string, groups: readonly number[]) {
  const rows = await tx
    .select({
      group: picture.similarGroup,
      picture: picture.id,
      text: appearance.words,
      reading: appearance.reading,
      lang: page.lang,
    })
    .from(appearance)
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(
      and(
        eq(appearance.collectionId, collectionId),
        eq(appearance.gone, false),
        among(picture.similarGroup, groups),
        eq(appearance.state, 'described'),
        sql`not exists (select from finding f where f.appearance_id = ${appearance.id} and f.outcome <> 'advice' and not f.ignored)`,
      ),
    )
    .orderBy(sql`${appearance.words} is null`, picture.similarRank, appearance.id)
    .limit(500);
  return rows.map(({ group, picture: id, text, reading, lang }) => ({
    group,
    picture: id,
    text: heardAfter(reading, text),
    language: reading.context.lang ?? lang,
  }));
}

/** The titles of the pages that links lead to, where those pages were surveyed. */
async function titlesOf(tx: Queryable, collectionId: string, paths: readonly string[]): Promise<Map<string, string>> {
  if (paths.length === 0) return new Map();
  const rows = await tx
    .select({ path: page.path, title: page.title })
    .from(page)
    .where(and(eq(page.collectionId, collectionId), inArray(page.path, [...paths])));
  return new Map(rows.filter((r) => r.title !== '').map((r) => [r.path, r.title]));
}

async function styleOf(tx: Queryable, collectionId: string): Promise<{ style: RuleStyle; common: Set<string> }> {
  const [row] = await tx
    .select({ style: collection.style, common: collection.commonTitles })
    .from(collection)
    .where(eq(collection.id, collectionId));
  return { style: row?.style ?? {}, common: new Set(row?.common) };
}

const EXAMPLES = 8;
/** How long examples hold, in milliseconds: a round asks for thousands. */
const CACHE_TTL_MS = 60_000;
let lastExamples: { collectionId: string; at: number; texts: string[] } | null = null;

/** Texts of a collection that people wrote or accepted, and no rule finds anything in, the latest first. */
async function examplesOf(tx: Queryable, collectionId: string): Promise<string[]> {
  if (lastExamples?.collectionId === collectionId && performance.now() - lastExamples.at < CACHE_TTL_MS)
    return lastExamples.texts;
  const rows = await tx
    .select({ text: wording.text })
    .from(wording)
    .innerJoin(appearance, eq(appearance.id, wording.appearanceId))
    .where(
      and(
        eq(wording.collectionId, collectionId),
        eq(wording.state, 'accepted'),
        isNotNull(wording.text),
        sql`${wording.text} <> '' and ${wording.text} = ${appearance.words}`,
        sql`not exists (select from finding f where f.appearance_id = ${appearance.id} and not f.ignored)`,
      ),
    )
    .orderBy(sql`${wording.id} desc`)
    .limit(EXAMPLES * 4);
  const texts = [...new Set(rows.map((r) => r.text!))].slice(0, EXAMPLES);
  lastExamples = { collectionId, at: performance.now(), texts };
  return texts;
}

/** Formulas in words, in the order of the readings; null for what shows none, or has no source that can be said. */
async function formulasOf(
  all: readonly { reading: Appearance; language: string | null }[],
): Promise<(string | null)[]> {
  const sources = all.map(({ reading: a, language }) => {
    const tex = a.markup.alt ?? a.accessible.name;
    return isFormula(a) && tex !== '' && isTex(tex, Boolean(a.context.formula)) && language && formulaLanguage(language)
      ? { tex, language }
      : null;
  });
  const languages = new Set(sources.flatMap((s) => (s ? formulaLanguage(s.language)! : [])));
  if (languages.size === 0) return all.map(() => null);
  const { speech } = await openFormulaSpeech(languages);
  return sources.map((s) => s && speech(s.tex, s.language));
}
