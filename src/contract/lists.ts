/** A text that a list would change. */
export interface ListChange {
  /** In the file. */
  row: number;
  picture: string;
  page: string;
  /** What is heard now, and what would be; `''` is decorative, null no alt text. */
  before: string | null;
  after: string;
  /** The text that the list was made with, where it is another by now; the change is made only if it is asked for. */
  madeWith: string | null;
  /** Places that get the text: one, or of a row for a picture all that say what the row shows. */
  places: number;
  /** What the picture's other places say, which stay as they are; the first of them. */
  others: { text: string | null; places: number }[];
}

/** Why a row changes nothing although it should. */
export type UnknownRow =
  'no-key' | 'not-found' | 'several' | 'names-control' | 'twice' | 'garbled' | 'control-characters' | 'too-long';

/** What a list would change, before it does. */
export interface ListPreview {
  /** The first of them; those where both sides changed come first. */
  changes: ListChange[];
  /** Rows that change something, without those where both sides changed; and the places that they change. */
  total: number;
  places: number;
  conflicts: number;
  same: number;
  unknown: { row: number; why: UnknownRow }[];
  unknownTotal: number;
  /** How the file is encoded, by its name in the Encoding Standard; null of a workbook and of JSON. */
  encoding: string | null;
  /** Rows whose present text was edited, in the column that shows it, where nothing stands in the column of new texts. */
  editedInAlt: number;
}

/** Encodings that a person can choose for a list whose text reads wrongly: those that spreadsheets write. */
export const LIST_ENCODINGS = [
  ...['utf-8', 'windows-1252', 'iso-8859-2', 'windows-1250', 'windows-1251', 'windows-1253', 'windows-1254'],
  ...['windows-1257', 'iso-8859-15', 'macintosh', 'utf-16le', 'utf-16be', 'shift_jis', 'gb18030', 'big5', 'euc-kr'],
] as const;
