import type { Cause } from '@/contract/survey';
import type { FormatId } from '@/core/model/document';
import { weightOf, type Message } from '@/core/model/message';
import { reasonOf } from '../log';

/** Causes that say nothing of the thing itself: Detto chose not to look. */
const NOT_LOOKED_AT: readonly Cause[] = ['robots', 'refused', 'elsewhere'];

/** Something that was not read, with a reason that completes "skipped: …". */
export class Skipped extends Error {
  constructor(
    readonly reason: Message,
    readonly why: Cause = 'unreadable',
    /** HTTP status, where there was an answer. */
    readonly status: number | null = null,
  ) {
    super(reason.id);
  }

  get notLookedAt(): boolean {
    return NOT_LOOKED_AT.includes(this.why);
  }
}

/** Any error as the reason why something was skipped. */
export const asSkipped = (error: unknown): Skipped =>
  error instanceof Skipped ? error : new Skipped(reasonOf(error), 'unreadable');

/** What a server says of a state of a resource, to be asked later whether it still holds (RFC 9110, 8.8). */
export interface Validators {
  etag: string | null;
  lastModified: string | null;
}

export interface FetchedPage extends Validators {
  bytes: Buffer;
  format: FormatId;
  /** What a course calls it, and its place there; absent where it is a page of none. */
  course?: { title: string; rank: number };
  /** Charset of the transport, where there is one. */
  transport?: string;
  /** Where it was found in the end, after redirects. */
  address: string;
  status: number | null;
  /** Of `X-Robots-Tag`. */
  directives: string[];
}

export interface FetchedPicture extends Validators {
  bytes: Buffer;
}

export const UNCHANGED = 'unchanged';

/** Where a survey reads from: a site, a folder or a ZIP. */
export interface Source {
  /** Addresses to begin with, and what was passed over while listing them. */
  seeds(): Promise<{ addresses: string[]; skipped: { address: string; skipped: Skipped }[] }>;
  /**
   * @param known validators of the state that is known already
   * @throws Skipped
   */
  page(address: string, known?: Validators): Promise<FetchedPage | typeof UNCHANGED>;
  /** @throws Skipped */
  picture(address: string, known?: Validators): Promise<FetchedPicture | typeof UNCHANGED>;
  /** An absolute address for what a page refers to; null when it cannot be one (`javascript:`, a fragment). */
  resolve(reference: string, page: string, base: string | null): string | null;
  /** Whether a linked address is a page of this collection: null, `'no page'`, or why it is left out. */
  outside(address: string): Skipped | 'no page' | null;
  /** Whether `nofollow` and its like are obeyed, and pages with several addresses counted once. */
  readonly isSite: boolean;
  readonly obeysRobots: boolean;
  close(): Promise<void>;
}

export const LIMITS = {
  page: 5 * 1024 * 1024,
  /** Of an office file, a book, a PDF: pictures are a part of it. */
  document: 300 * 1024 * 1024,
  picture: 25 * 1024 * 1024,
  zip: 1024 * 1024 * 1024,
  zipEntries: 50_000,
  zipRatio: 200,
  files: 100_000,
} as const;

export const megabytes = (bytes: number): string => `${(bytes / 1_048_576).toFixed(bytes < 10_485_760 ? 1 : 0)} MB`;

export function tooBig(
  bytes: number,
  limit: number,
  what: 'page' | 'document' | 'picture' | 'sitemap' | 'file',
): Skipped {
  return new Skipped({ id: 'skip.too-big', values: { size: weightOf(bytes), limit: weightOf(limit), what } }, 'size');
}
