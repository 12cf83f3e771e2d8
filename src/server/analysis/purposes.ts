import { and, asc, eq, gt, sql } from 'drizzle-orm';
import { proposePurpose } from '@/core/purpose/propose';
import { storable } from '../db/bulk';
import { database } from '../db/database';
import { appearance, picture } from '../db/schema';
import { PICTURE_FACTS, toPicture } from '../catalogue/picture-rows';

const BATCH = 2000;

/** Proposes the purposes again that nobody has settled, now that more is known of the pictures. */
export async function updatePurposes(collectionId: string, signal: AbortSignal): Promise<void> {
  const db = await database();
  for (let after = 0; !signal.aborted;) {
    const rows = await db
      .select({
        id: appearance.id,
        reading: appearance.reading,
        purpose: appearance.purpose,
        evidence: appearance.evidence,
        reach: picture.reach,
        picture: PICTURE_FACTS,
      })
      .from(appearance)
      .innerJoin(picture, eq(picture.id, appearance.pictureId))
      .where(
        and(
          eq(appearance.collectionId, collectionId),
          eq(appearance.gone, false),
          eq(appearance.purposeSettled, false),
          gt(appearance.id, after),
        ),
      )
      .orderBy(asc(appearance.id))
      .limit(BATCH);
    if (rows.length === 0) return;
    after = rows.at(-1)!.id;
    const changed = rows.flatMap(({ id, reading, purpose, evidence, reach, picture: row }) => {
      const proposal = proposePurpose(reading, toPicture(row), reach);
      const same = proposal.purpose === purpose && JSON.stringify(proposal.evidence) === JSON.stringify(evidence);
      return same ? [] : [{ id, ...proposal }];
    });
    if (changed.length > 0)
      await db.execute(sql`update ${appearance} set purpose = r.purpose, purpose_sure = r.sure, evidence = r.evidence
        from json_to_recordset(${storable(changed)}::json) as r(id int, purpose text, sure real, evidence jsonb)
        where ${appearance.id} = r.id and not ${appearance.purposeSettled}`);
  }
}
