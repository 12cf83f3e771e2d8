import type { ListPreview } from '@/contract/lists';
import type { BulkState } from '@/contract/bulk';
import type { ReadList, ReadRow } from '@/core/lists/read-list';
import { startTexts } from '../bulk/bulk';
import { matchRows } from './match-list';

/** Changes and rows that a preview lists. */
const SHOWN = 300;

/** What a list would change. */
export async function previewList(collectionId: string, { rows, encoding }: ReadList): Promise<ListPreview> {
  const { changes, same, unknown, editedInAlt } = await matchRows(collectionId, rows);
  const conflicts = changes.filter((c) => c.madeWith !== null);
  const others = changes.filter((c) => c.madeWith === null);
  return {
    changes: [...conflicts, ...others].slice(0, SHOWN).map(({ appearanceIds: _, ...change }) => change),
    total: others.length,
    places: others.reduce((sum, c) => sum + c.places, 0),
    conflicts: conflicts.length,
    same,
    unknown: unknown.slice(0, SHOWN),
    unknownTotal: unknown.length,
    encoding,
    editedInAlt,
  };
}

/**
 * Saves the new texts of a list, under one act that can be undone. Sent twice under one act, it is saved once.
 *
 * @param take rows whose change is made although their text has changed here since the list was made
 * @param leave rows whose change is not made
 * @param source of texts that are only left as drafts, the name of the list; null to save them
 */
export async function saveList(
  collectionId: string,
  rows: readonly ReadRow[],
  act: string,
  take: ReadonlySet<number>,
  leave: ReadonlySet<number>,
  source: string | null,
): Promise<BulkState> {
  const { changes } = await matchRows(collectionId, rows);
  const wanted = changes.filter((c) => (c.madeWith === null ? !leave.has(c.row) : take.has(c.row)));
  return startTexts(
    collectionId,
    wanted.flatMap((c) => c.appearanceIds.map((appearanceId) => ({ appearanceId, text: c.after }))),
    act,
    source,
  );
}
