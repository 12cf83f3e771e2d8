import type { MetadataField, PictureMetadata } from '@/core/picture/metadata';

/** The fields of a file's metadata that may be sent; never people, places by their position, or numbers of devices. */
const SENT: readonly MetadataField[] = ['title', 'description', 'alt', 'extended'];
/** How people can be reached, and positions on the earth, wherever they stand in a text. */
const PRIVATE =
  /\S+@\S+\.\S+|(?:https?:\/\/|www\.)\S+|\+?\d[\d\s().\/-]{7,}\d|[-+]?\d{1,3}\.\d{3,}°?(?:\s*[NSEW])?[,;\s]+[-+]?\d{1,3}\.\d{3,}°?(?:\s*[NSEW]\b)?|\d{1,3}°\s*\d{1,2}['′]\S*/gu;

/** The words of a file's metadata that may go into a prompt. */
export function metadataWords(metadata: PictureMetadata): string[] {
  const texts = SENT.flatMap((field) => metadata[field]?.text ?? [])
    .map((text) => text.replace(PRIVATE, '…').trim())
    .filter((text) => /\p{L}/u.test(text));
  return [...new Set(texts)];
}
