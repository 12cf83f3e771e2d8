import type { Picture } from '@/core/appearance';
import { picture } from '../db/schema';

const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = picture;
/** The columns that the core knows a picture by. */
export const PICTURE_FACTS = { id, sha256, type, bytes, width, height, src, broken, unread, lighter };

/** A row as the core knows a picture. */
export function toPicture(row: Pick<typeof picture.$inferSelect, keyof typeof PICTURE_FACTS>): Picture {
  const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = row;
  return { id: String(id), sha256, type, bytes, width, height, src, broken, unread, lighter };
}

/** Address of a small picture; of the picture itself until it has been looked at; null for what cannot be shown. */
export function thumbOf(
  row: Pick<typeof picture.$inferSelect, 'id' | 'collectionId' | 'thumb' | 'looked' | 'sha256' | 'type' | 'broken'>,
): string | null {
  if (row.thumb) return `/thumb/${row.thumb}`;
  const waits = row.looked === 0 && row.sha256 !== null && row.type !== null && row.broken === null;
  return waits ? `/found/${row.collectionId}/${row.id}` : null;
}
