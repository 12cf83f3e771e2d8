/** Something that was not read, with the reason in words that complete "skipped: …". */
export class Skipped extends Error {
  /** @param notLookedAt true when Detto chose not to look, so that nothing is known of the thing itself */
  constructor(
    readonly reason: string,
    readonly notLookedAt = false,
  ) {
    super(reason);
  }
}

export interface FetchedPage {
  bytes: Buffer;
  /** Charset of the transport, where there is one. */
  transport?: string;
  /** Where it was found in the end, after redirects. */
  address: string;
}

/** Where a survey reads from: a site, a folder or a ZIP. */
export interface Source {
  /** Addresses to begin with, and what was passed over while listing them. */
  seeds(): Promise<{ addresses: string[]; skipped: { address: string; reason: string }[] }>;
  /** @throws Skipped */
  page(address: string): Promise<FetchedPage>;
  /** @throws Skipped */
  picture(address: string): Promise<Buffer>;
  /** An absolute address for what a page refers to; null when it cannot be one (`javascript:`, a fragment). */
  resolve(reference: string, page: string, base: string | null): string | null;
  /** Whether a linked address is a page of this collection; a reason when it is one but is left out. */
  follows(address: string): { follow: boolean; reason?: string };
  close(): Promise<void>;
}

export const LIMITS = {
  page: 5 * 1024 * 1024,
  picture: 25 * 1024 * 1024,
  zip: 1024 * 1024 * 1024,
  zipEntries: 50_000,
  zipRatio: 200,
  files: 100_000,
} as const;

export const megabytes = (bytes: number): string => `${(bytes / 1_048_576).toFixed(bytes < 10_485_760 ? 1 : 0)} MB`;

export function tooBig(bytes: number, limit: number, what: string): Skipped {
  return new Skipped(`${megabytes(bytes)}, over the limit of ${megabytes(limit)} for a ${what}`);
}
