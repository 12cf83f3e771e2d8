import type { Rights } from './picture-analysis';

/** Whom a picture is owed to, as a person recorded it. */
export interface Credit {
  /** Who is named: a person, an agency. */
  credit: string;
  /** Name or address of the licence. */
  licence: string;
  /** Page that it was taken from. */
  source: string;
  /** What is said of the words beside the picture, such as that a machine drafted its alt text. */
  note?: string;
}

/** What stands between the parts of a credit line. */
export const CREDIT_SEPARATOR = ', ';

/** Creative Commons addresses as people name the licences (creativecommons.org/licenses). */
export function licenceName(licence: string): string {
  const [, kind, version] = /creativecommons\.org\/licenses\/([a-z-]+)\/(\d\.\d)/i.exec(licence) ?? [];
  if (kind) return `CC ${kind.toUpperCase()} ${version}`;
  if (/creativecommons\.org\/publicdomain\/zero/i.test(licence)) return 'CC0';
  if (/creativecommons\.org\/publicdomain\/mark/i.test(licence)) return 'public domain';
  return licence;
}

/** What is recorded, completed by what the file says. */
export function creditFrom(recorded: Credit | null, rights: Rights | null): Credit {
  return {
    credit: recorded?.credit || rights?.credit || rights?.creator || rights?.copyright || '',
    licence: recorded?.licence || rights?.licence || '',
    source: recorded?.source || '',
  };
}

/** One line to stand under the picture; empty where nothing is known. Author, source, licence, note (common practice). */
export function creditLine({ credit, licence, source, note }: Credit): string {
  const who = credit && (/^(?:©|\(c\)|copyright|photo|picture)/i.test(credit) ? credit : `Photo: ${credit}`);
  let host = '';
  try {
    host = source ? new URL(source).hostname.replace(/^www\./, '') : '';
  } catch {
    host = source;
  }
  return [who, host, licence && licenceName(licence), note].filter(Boolean).join(CREDIT_SEPARATOR);
}
