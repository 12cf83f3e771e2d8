import type { DocumentFormat, FileHead, FormatId } from '../model/document';
import { epub } from './epub';
import { html } from './html';
import { mail } from './mail';
import { markdown } from './markdown';
import { odp, ods, odt } from './odf';
import { docx, pptx, xlsx } from './ooxml';
import { pdf } from './pdf';
import { svg } from './svg';

/** Every format, in the order in which a file is asked whether it is of it. A new format is a folder and a line here. */
export const FORMATS: readonly DocumentFormat[] = [
  html,
  docx,
  pptx,
  xlsx,
  odt,
  odp,
  ods,
  epub,
  pdf,
  mail,
  markdown,
  svg,
];

/** The format of a file; null where Detto reads none of its kind. */
export const formatOf = (head: FileHead): DocumentFormat | null => FORMATS.find((f) => f.matches(head)) ?? null;

/** A format by its id. */
export const formatById = (id: FormatId): DocumentFormat => FORMATS.find((f) => f.id === id)!;

const NOTHING = new Uint8Array();

/** The format that a file's name tells; null where it tells none. */
export const formatOfName = (name: string): FormatId | null =>
  formatOf({ bytes: NOTHING, name, type: null })?.id ?? null;
