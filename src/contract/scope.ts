import { z } from 'zod';

const Pattern = z.string().trim().min(1).max(500);

/** How far a survey of a site goes, and how it behaves there. */
export const Scope = z.object({
  /** Where to begin besides the collection's own address. */
  addresses: z.array(z.string().max(2000)).max(50_000).default([]),
  /** False for a list of addresses, or for one page: links and sitemaps are left alone. */
  follow: z.boolean().default(true),
  sitemaps: z.boolean().default(true),
  /** Only below this path. */
  prefix: z.string().trim().max(500).default(''),
  /** Only paths that match one of these, where there are any; written as in robots.txt (RFC 9309, 2.2.3). */
  include: z.array(Pattern).max(50).default([]),
  exclude: z.array(Pattern).max(50).default([]),
  /** False when the editor owns the site and wants all of it. */
  obeyRobots: z.boolean().default(true),
  /** Office files, books and PDFs that pages link to are read, too. */
  documents: z.boolean().default(false),
  /** Requests a second to one host, at most; null leaves it to robots.txt and the server's patience. */
  perSecond: z.number().min(0.01).max(100).nullable().default(null),
  /** Which pages are opened in a browser: none, those that are empty without scripts, or all. */
  reading: z.enum(['source', 'auto', 'browser']).default('auto'),
});
export type Scope = z.infer<typeof Scope>;
