import { FORMAT_IDS, type FormatId } from '../../model/document';

/** Rules for words, and for what every format can say of a picture. */
export const EVERY_FORMAT: readonly FormatId[] = FORMAT_IDS;

/** Formats whose pictures are elements of HTML. */
export const MARKUP: readonly FormatId[] = ['html', 'epub', 'mail', 'markdown'];

/** Web pages: what has an address, a server and a search engine. */
export const WEB: readonly FormatId[] = ['html'];

/** Pages whose pictures are sent to readers one by one. */
export const FETCHED: readonly FormatId[] = ['html', 'mail'];

/** Pages whose pictures are files beside them, with names that people and search engines meet. */
export const NAMED_FILES: readonly FormatId[] = ['html', 'markdown'];

export const OFFICE: readonly FormatId[] = ['docx', 'pptx', 'xlsx', 'odt', 'odp', 'ods'];
