import type { FormatId, FrontMatterKeys } from '@/core/model/document';
import type { Message } from '@/core/model/message';
import type { PagePicture, PageReading } from '@/core/model/page';
import type { PictureFacts } from '../workers/tasks';
import type { Waiting } from './frontier';
import type { Skipped, Validators } from './source';

/** A picture as gathered: read, or the reason why it could not be. */
export type GatheredPicture =
  | ({ found: true; address: string; reading: PictureFacts; bytes: Buffer } & Validators)
  | { found: false; address: string; skipped: Skipped };

export interface GatheredPage {
  address: string;
  format: FormatId;
  /** Address of the document that it is a page of; null where it is the document itself, as web pages are. */
  document: string | null;
  /** Its place among the pages of its document or its course, from 0; null where it has none. */
  rank: number | null;
  /** Of its document's file. */
  bytes: Buffer;
  /** Of the bytes. */
  sha256: string;
  transport: string | null;
  /** Keys of front matter that it was read with; null where its format has none. */
  frontMatter: readonly FrontMatterKeys[] | null;
  validators: Validators;
  status: number | null;
  reading: PageReading;
  /** By `Appearance.order`: the address of its picture; null for those that show no file. */
  pictureOf: (string | null)[];
  /** Addresses of pages that it leads to, and of all pictures on it. */
  links: string[];
  pictures: string[];
  /** Where it leads and the survey does not. */
  left: { address: string; skipped: Skipped }[];
  /** The same for two addresses of one page; null where addresses are files. */
  sameKey: string | null;
  /** Hash of its title and of what it shows. */
  showsKey: string;
  /** Of `meta robots` and `X-Robots-Tag`. */
  directives: string[];
  /** What the log has to say of a page that was read; null when there is nothing. */
  note: Message | null;
  /** Its icons and previews, by their whole addresses. */
  pagePictures: PagePicture[];
}

/** What pages are sorted by before their paths: slides come by their numbers, pages of a course in its order. */
export const sortKeyOf = ({ address, document, rank }: GatheredPage): string | null => {
  if (rank === null) return null;
  const digits = String(rank).padStart(6, '0');
  return document === null ? ` ${digits} ${address}` : `${document}#${digits}`;
};

/** A document with its pages: slides, sheets, chapters, or one for the whole. */
export interface GatheredDocument {
  address: string;
  status: number | null;
  pages: GatheredPage[];
  /** What the log has to say of it; null when there is nothing. */
  note: Message | null;
}

/** A page as the survey before kept it. */
export interface KnownPage extends Validators {
  sha256: string;
  /** Whether a browser had a part in it: its bytes do not tell then whether it has changed. */
  rendered: boolean;
  links: string[];
  pictures: string[];
  frontMatter: readonly FrontMatterKeys[] | null;
}

/** A picture as the survey before kept it; without a hash when it could not be read. */
export interface KnownPicture extends Validators {
  sha256: string | null;
}

/** Where a survey keeps what it finds; in memory for the command line, in the database for the application. */
export interface SurveyStore {
  /** What an earlier run left is known then; until then only `next` and `knownPage` may be asked. */
  readonly loaded: Promise<void>;
  /** Adds addresses not seen before, up to the limit of pages. */
  enqueue(addresses: Waiting[]): Promise<void>;
  /** The next address to read; null when none waits. What was handed out is handed out once. */
  next(): Promise<Waiting | null>;
  /** A page as the survey before kept it; null when there is none. */
  knownPage(address: string): Promise<KnownPage | null>;
  page(page: GatheredPage): Promise<void>;
  /** A document that is not a web page, with all of its pages. */
  document(document: GatheredDocument): Promise<void>;
  /** A page is as it was kept, with its pictures and appearances. */
  unchanged(address: string): Promise<void>;
  skip(address: string, skipped: Skipped): Promise<void>;
  /** Addresses that are left aside unless another way leads to them. */
  leave(addresses: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void>;
  /** True when the picture at an address was gathered in this survey already. */
  hasPicture(address: string): Promise<boolean>;
  /** A picture as the survey before kept it; null when there is none. */
  knownPicture(address: string): Promise<KnownPicture | null>;
  picture(picture: GatheredPicture): Promise<void>;
  pictureUnchanged(address: string): Promise<void>;
  /** A style sheet was asked for, or is left out, with the reason. */
  sheet(address: string, foundOn: string, skipped: Skipped | null): Promise<void>;
  /** Called as often as something changed. */
  progress(): Promise<void>;
}
