import type { PageReading } from '../../model/page';
import type { OoxmlPackage } from './package';
import type { WrittenObject } from './place-objects';
import { readSheets } from './read-sheets';
import { readSlides } from './read-slides';
import { readWord } from './read-word';

/** A page of an Office document, with the objects of its appearances in their order. */
export interface OfficePage {
  fragment: string | null;
  reading: PageReading;
  objects: WrittenObject[];
}

/** The kinds of Office Open XML documents. */
export type OfficeKind = 'docx' | 'pptx' | 'xlsx';

const READERS: Record<OfficeKind, (pack: OoxmlPackage) => OfficePage[]> = {
  docx: readWord,
  pptx: readSlides,
  xlsx: readSheets,
};

/** @throws DocumentError when the main part is missing or cannot be read */
export const readOffice = (pack: OoxmlPackage, kind: OfficeKind): OfficePage[] => READERS[kind](pack);
