import type { DocumentFormat, FileHead, FormatId } from '../model/document';
import { html } from './html';

/** Every format, in the order in which a file is asked whether it is of it. A new format is a folder and a line here. */
export const FORMATS: readonly DocumentFormat[] = [html];

/** The format of a file; null where Detto reads none of its kind. */
export const formatOf = (head: FileHead): DocumentFormat | null => FORMATS.find((f) => f.matches(head)) ?? null;

/** A format by its id. */
export const formatById = (id: FormatId): DocumentFormat => FORMATS.find((f) => f.id === id)!;
