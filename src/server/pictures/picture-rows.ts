import type { Picture } from '@/core/appearance';
import type { picture } from '../db/schema';

export type PictureRow = typeof picture.$inferSelect;

/** A row as the core knows a picture. */
export function toPicture(row: PictureRow): Picture {
  const { id, sha256, type, bytes, width, height, src, broken, lighter } = row;
  return { id: String(id), sha256, type, bytes, width, height, src, broken, lighter };
}
