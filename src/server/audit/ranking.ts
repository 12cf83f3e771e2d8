import { sql, type SQL } from 'drizzle-orm';
import type { Appearance } from '@/core/appearance';
import { urgencyOf } from '@/core/purpose/order';
import { OUTCOMES } from '@/core/rules/rule';
import { storable } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, picture } from '../db/schema';

/** Regions from the one that matters most. */
const REGIONS: NonNullable<Appearance['region']>[] = ['main', 'header', 'nav', 'aside', 'footer'];

interface Row {
  id: number;
  reach: number;
  unsaid: number;
  worst: number;
  functional: number;
  region: number | null;
  area: number | null;
  series_size: number;
  series_rank: number;
}

/** Brings the order of work up to date, once the counts are. */
export async function rankPictures(tx: Queryable, where: SQL): Promise<void> {
  const region = sql.join(
    REGIONS.map((name, i) => sql`when ${name} then ${sql.raw(String(i))}`),
    sql` `,
  );
  const { rows } = (await tx.execute(sql`
    select ${picture.id} id, ${picture.reach} reach, ${picture.unsaid} unsaid, ${picture.worst} worst,
      ${picture.seriesSize} series_size, ${picture.seriesRank} series_rank,
      coalesce(a.functional, 0)::int functional, a.region, coalesce(a.area, ${picture.width} * ${picture.height})::float8 area
    from ${picture} left join lateral (
      select count(*) filter (where x.state = 'unsaid' and x.purpose = 'functional') functional,
        min(case x.reading->>'region' ${region} end) region,
        max((x.reading->>'shownWidth')::float8 * (x.reading->>'shownHeight')::float8) area
      from ${appearance} x where x.picture_id = ${picture.id} and not x.gone
    ) a on true
    where ${where} and (${picture.unsaid} > 0 or ${picture.worst} < 3)`)) as unknown as { rows: Row[] };
  const ranked = rows.map((r) => ({
    id: r.id,
    ...urgencyOf({
      reach: r.reach,
      unsaid: r.unsaid,
      unsaidFunctional: r.functional,
      worst: OUTCOMES[r.worst] ?? null,
      region: r.region === null ? null : REGIONS[r.region]!,
      area: r.area,
      seriesSize: r.series_size,
      seriesRank: r.series_rank,
    }),
  }));
  await tx.execute(sql`update ${picture} set urgency = 0, urgent_because = ''
    where ${where} and ${picture.urgency} > 0 and ${picture.unsaid} = 0 and ${picture.worst} = 3`);
  if (ranked.length > 0)
    await tx.execute(sql`update ${picture} set urgency = r.urgency, urgent_because = r.because
      from json_to_recordset(${storable(ranked)}::json) as r(id int, urgency real, because text)
      where picture.id = r.id`);
}
