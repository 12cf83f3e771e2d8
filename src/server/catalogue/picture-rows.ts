import type { Picture } from '@/core/model/picture';
import type { Fingerprint } from '@/core/picture/fingerprint';
import type { PictureAnalysis } from '@/core/model/picture-analysis';
import { sql } from 'drizzle-orm';
import { picture } from '../db/schema';

const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = picture;
const {
  kind,
  kindSure,
  recognisedText,
  textShare,
  duplicateGroup,
  similarGroup,
  similarCount,
  fileWords,
  fileWordsFrom,
  rights,
  analysisVersion,
} = picture;
const hasLongDescription = sql<boolean>`coalesce(${picture.longDescription}, '') <> ''`.as('has_long_description');
const fields = sql<string | null>`${picture.fingerprint}->>'fields'`.as('fields');
const ANALYSIS = {
  kind,
  kindSure,
  recognisedText,
  textShare,
  duplicateGroup,
  similarGroup,
  similarCount,
  fileWords,
  fileWordsFrom,
  rights,
  fields,
};
/** The columns that the core knows a picture by. */
export const PICTURE_FACTS = {
  ...{ id, sha256, type, bytes, width, height, src, broken, unread, lighter, analysisVersion },
  hasLongDescription,
  ...ANALYSIS,
};

export type PictureRow = Pick<
  typeof picture.$inferSelect,
  Exclude<keyof typeof PICTURE_FACTS, 'fields' | 'hasLongDescription'>
> & {
  hasLongDescription?: boolean;
  longDescription?: string | null;
  fields?: string | null;
  fingerprint?: Fingerprint | null;
};

/** A row as the core knows a picture. */
export function toPicture(row: PictureRow): Picture {
  const { id, sha256, type, bytes, width, height, src, broken, unread, lighter } = row;
  const hasLongDescription = row.hasLongDescription ?? (row.longDescription ?? '') !== '';
  const analysis: PictureAnalysis | null =
    row.analysisVersion === 0
      ? null
      : {
          kind: row.kind,
          sure: row.kindSure,
          text: row.recognisedText,
          textShare: row.textShare,
          duplicateGroup: row.duplicateGroup,
          similarGroup: row.similarGroup,
          similarCount: row.similarCount,
          fields: row.fields ?? row.fingerprint?.fields ?? null,
          words: row.fileWords,
          wordsFrom: row.fileWordsFrom,
          rights: row.rights,
        };
  return {
    id: String(id),
    sha256,
    type,
    bytes,
    width,
    height,
    src,
    broken,
    unread,
    smallerCopyBytes: lighter,
    analysis,
    hasLongDescription,
  };
}

/** Address of a small picture; of the picture itself until it has been looked at; null for what cannot be shown. */
export function thumbOf(
  row: Pick<
    typeof picture.$inferSelect,
    'id' | 'collectionId' | 'thumb' | 'analysisVersion' | 'sha256' | 'type' | 'broken'
  >,
): string | null {
  if (row.thumb) return `/thumb/${row.thumb}`;
  const waits = row.analysisVersion === 0 && row.sha256 !== null && row.type !== null && row.broken === null;
  return waits ? `/found/${row.collectionId}/${row.id}` : null;
}
