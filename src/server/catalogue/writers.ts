import { and, desc, eq } from 'drizzle-orm';
import type { DraftRecord } from '@/contract/drafting';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { wording } from '../db/schema';

/** Who or what wrote a text, and the draft that it came from; null of one that nobody drafted. */
export interface Writer {
  by: 'page' | 'person' | 'drafter';
  draft: DraftRecord | null;
}

/** Who wrote the words that were accepted last at some places; those that the page has of its own are not there. */
export async function writersAt(db: Queryable, ids: readonly number[]): Promise<Map<number, Writer>> {
  const rows = await db
    .selectDistinctOn([wording.appearanceId], { id: wording.appearanceId, by: wording.by, draft: wording.draft })
    .from(wording)
    .where(and(among(wording.appearanceId, ids), eq(wording.state, 'accepted')))
    .orderBy(wording.appearanceId, desc(wording.id));
  return new Map(rows.map(({ id, ...writer }) => [id, writer]));
}

/** Whether a machine drafted a text: a service, which has a model, or the evidence drafter; not a table that came in. */
export const isMachineDrafted = (writer: Writer | undefined): boolean =>
  Boolean(writer?.draft && (writer.draft.origin.model !== null || writer.draft.origin.service === null));
