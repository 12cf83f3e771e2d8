import { sql, type SQL } from 'drizzle-orm';
import type { Region } from '@/core/model/appearance';
import { urgencyOf } from '@/core/purpose/order';
import { RULES } from '@/core/rules';
import { OUTCOMES } from '@/core/model/finding';
import { updateChangedRows } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, finding, page, picture } from '../db/schema';

/** Regions from the one that matters most. */
const BY_REGION: readonly Region[] = ['main', 'header', 'nav', 'aside', 'footer'];

/** First part of the address of a page; empty for pages at the top. */
const SECTION_OF_PAGE = sql`case when g.path ~ '^(https?://[^/]+/)?[^/?]+/' then
  split_part(split_part(regexp_replace(g.path, '^https?://[^/]+/', ''), '?', 1), '/', 1) else '' end`;

/** Rules about the file and its delivery, which no words settle. */
const FILE_RULES = RULES.filter((r) => r.group === 'files').map((r) => r.id);

/** What lists of pictures are sorted and filtered by. */
const COUNTS = [
  ...(['reach', 'appearances', 'described', 'decorative', 'missing', 'length', 'drafts'] as const),
  ...(['worst', 'rules', 'search', 'purposes', 'sections', 'languages', 'writers', 'host'] as const),
  ...(['shownWidth', 'changedSurveyId', 'urgency', 'urgencyReason'] as const),
];

/** A picture with its counts, most of which only pass through here: those that the order of work is made from. */
interface Counted {
  id: number;
  reach: number;
  missing: number;
  worst_words: number;
  file_fails: boolean;
  functional: number;
  region: number | null;
  area: number | null;
  similar_count: number;
  similar_rank: number;
}

/**
 * Brings the counts that lists are sorted and filtered by up to date, and the order of work, which comes from them. Of a
 * picture whose counts are as they were, nothing is written: each of its indexes would be, too.
 *
 * @param tx a transaction, in which nobody else changes what is counted
 */
export async function refreshPictures(tx: Queryable, where: SQL): Promise<void> {
  const counted = (await countedPictures(tx, where)).map((c) => {
    const { urgency, reason } = urgencyOf({
      reach: c.reach,
      missing: c.missing,
      missingFunctional: c.functional,
      worst: OUTCOMES[c.worst_words] ?? null,
      fileFails: c.file_fails,
      region: c.region === null ? null : BY_REGION[c.region]!,
      area: c.area,
      similarCount: c.similar_count,
      similarRank: c.similar_rank,
    });
    return { ...c, urgency, urgency_reason: reason };
  });
  await updateChangedRows(tx, picture, COUNTS, counted);
}

async function countedPictures(tx: Queryable, where: SQL): Promise<Counted[]> {
  const region = sql.join(
    BY_REGION.map((name, i) => sql`when ${name} then ${sql.raw(String(i))}`),
    sql` `,
  );
  // As one text, which comes over from the embedded database's thread several times faster than rows.
  const { rows } = (await tx.execute(sql`
    select coalesce(json_agg(c), '[]')::text counted from (select
      picture.id, coalesce(a.reach, 0) reach, coalesce(a.n, 0) appearances, coalesce(a.described, 0) described,
      coalesce(a.decorative, 0) decorative, coalesce(a.missing, 0) missing, coalesce(a.length, 0) length,
      coalesce(d.n, 0) drafts, coalesce(f.worst, 3) worst, coalesce(f.rules, '{}') rules,
      lower(coalesce(picture.src, '') || ' ' || coalesce(a.words, '')) search,
      coalesce(a.purposes, '{}') purposes, coalesce(a.sections, '{}') sections,
      coalesce(a.languages, '{}') languages, coalesce(a.writers, '{}') writers,
      coalesce(substring(picture.src from '^https?://([^/:?#]+)'), '') host, a.shown_width,
      coalesce(a.changed, 0) changed_survey_id,
      coalesce(f.worst_words, 3) worst_words, coalesce(f.file_fails, false) file_fails, picture.similar_count,
      picture.similar_rank, coalesce(a.functional, 0) functional, a.region,
      coalesce(a.area, picture.width::float8 * picture.height) area
    from ${picture}
    left join lateral (
      select count(*) n, count(distinct page_id) reach, count(*) filter (where state = 'described') described,
        count(*) filter (where state = 'decorative') decorative, count(*) filter (where state = 'missing') missing,
        max(length(heard)) length, left(string_agg(distinct heard, ' '), 4000) words,
        count(*) filter (where state = 'missing' and purpose = 'functional') functional, min(region) region, max(area) area,
        array_agg(distinct purpose) purposes, array_agg(distinct section) sections,
        array_agg(distinct lang) filter (where lang is not null) languages,
        array_agg(distinct writer) filter (where writer is not null) writers,
        max(width) shown_width, max(changed) changed
      from (
        -- Not flattened into the above, which would read each appearance more than once.
        select x.page_id, x.state, x.purpose, coalesce(x.words, x.name) heard,
          case x.region ${region} end region, x.area, x.shown_width width, coalesce(x.lang, g.lang) lang,
          g.changed_survey_id changed, ${SECTION_OF_PAGE} section,
          case when x.state = 'missing' then null when x.words is null then 'page' else
            (select w.by from wording w where w.appearance_id = x.id and w.state = 'accepted' order by w.id desc limit 1) end writer
        from ${appearance} x join ${page} g on g.id = x.page_id
        where x.picture_id = picture.id and not x.gone offset 0
      ) x
    ) a on true
    left join lateral (
      select count(distinct w.appearance_id) n from wording w
      join ${appearance} x on x.id = w.appearance_id
      where x.picture_id = picture.id and not x.gone and w.state = 'draft'
    ) d on true
    left join lateral (
      select min(case outcome when 'failed' then 0 when 'cantTell' then 1 else 2 end) worst,
        min(case when rule = any(${sql.param(FILE_RULES)}::text[]) then 3 when outcome = 'failed' then 0 when outcome = 'cantTell' then 1 else 2 end) worst_words,
        bool_or(outcome = 'failed' and rule = any(${sql.param(FILE_RULES)}::text[])) file_fails,
        array_agg(distinct rule) rules
      from ${finding} y where y.picture_id = picture.id and not y.ignored
    ) f on true
    where ${where}) c`)) as unknown as { rows: [{ counted: string }] };
  return JSON.parse(rows[0].counted) as Counted[];
}
