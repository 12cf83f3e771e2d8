import type { Picture } from '@/core/model/appearance';
import type { Likeness } from '@/core/picture/fingerprint';
import type { Seen } from '@/core/model/picture-analysis';
import { sql } from 'drizzle-orm';
import { picture } from '../db/schema';

const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = picture;
const { kind, kindSure, textInside, textShare, family, series, seriesSize, fileWords, fileWordsFrom, rights, looked } =
  picture;
const described = sql<boolean>`${picture.longDescription} is not null`.as('described');
const fields = sql<string | null>`${picture.likeness}->>'fields'`.as('fields');
const SEEN = {
  kind,
  kindSure,
  textInside,
  textShare,
  family,
  series,
  seriesSize,
  fileWords,
  fileWordsFrom,
  rights,
  fields,
};
/** The columns that the core knows a picture by. */
export const PICTURE_FACTS = {
  ...{ id, sha256, type, bytes, width, height, src, broken, unread, lighter, looked },
  described,
  ...SEEN,
};

export type PictureRow = Pick<
  typeof picture.$inferSelect,
  Exclude<keyof typeof PICTURE_FACTS, 'fields' | 'described'>
> & {
  described?: boolean;
  longDescription?: string | null;
  fields?: string | null;
  likeness?: Likeness | null;
};

/** A row as the core knows a picture. */
export function toPicture(row: PictureRow): Picture {
  const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = row;
  const described = row.described ?? (row.longDescription ?? null) !== null;
  const seen: Seen | null =
    row.looked === 0
      ? null
      : {
          kind: row.kind,
          sure: row.kindSure,
          text: row.textInside,
          textShare: row.textShare,
          family: row.family,
          series: row.series,
          seriesSize: row.seriesSize,
          fields: row.fields ?? row.likeness?.fields ?? null,
          words: row.fileWords,
          wordsFrom: row.fileWordsFrom,
          rights: row.rights,
        };
  return { id: String(id), sha256, type, bytes, width, height, src, broken, unread, lighter, seen, described };
}

/** Address of a small picture; of the picture itself until it has been looked at; null for what cannot be shown. */
export function thumbOf(
  row: Pick<typeof picture.$inferSelect, 'id' | 'collectionId' | 'thumb' | 'looked' | 'sha256' | 'type' | 'broken'>,
): string | null {
  if (row.thumb) return `/thumb/${row.thumb}`;
  const waits = row.looked === 0 && row.sha256 !== null && row.type !== null && row.broken === null;
  return waits ? `/found/${row.collectionId}/${row.id}` : null;
}
