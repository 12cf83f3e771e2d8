import path from 'node:path';
import { z } from 'zod';
import { findChromium } from './survey/browser/chromium';
import { parseAllowed, type Allowed } from './survey/allowed';

const Environment = z.object({
  DETTO_DATA: z.string().default('data'),
  DETTO_HOST: z.string().default('127.0.0.1'),
  DETTO_PORT: z.coerce.number().int().min(1).max(65535).default(4800),
  /** Comma-separated hosts on this machine or a private network that surveys may reach. */
  DETTO_ALLOW_HOSTS: z.string().default(''),
  /** Whether folders of this machine may be surveyed by path; by default only when Detto listens on loopback. */
  DETTO_LOCAL_FOLDERS: z.enum(['yes', 'no', 'loopback']).default('loopback'),
  /** The browser for pages that need one; by default the Chromium that is found. */
  DETTO_CHROMIUM: z.string().default(''),
  /** Where the owner of a surveyed site can reach the person who runs Detto: an address of a page or of mail. */
  DETTO_CONTACT: z
    .string()
    .max(200)
    .regex(/^[\x20-\x7e]*$/, 'only plain ASCII characters')
    .default(''),
});

export interface Config {
  dataDir: string;
  host: string;
  port: number;
  allowedHosts: Allowed[];
  localFolders: boolean;
  /** Null where there is none. */
  chromium: string | null;
  contact: string;
}

let known: Config | null = null;

/**
 * The settings of the person who runs Detto, read once.
 *
 * @throws Error that names the variable when one is not valid
 */
export function config(): Config {
  if (known) return known;
  const parsed = Environment.safeParse(process.env);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new Error(`${String(issue.path[0])}: ${issue.message}`);
  }
  const env = parsed.data;
  const loopback = ['127.0.0.1', '::1', 'localhost'].includes(env.DETTO_HOST);
  known = {
    dataDir: path.resolve(env.DETTO_DATA),
    host: env.DETTO_HOST,
    port: env.DETTO_PORT,
    allowedHosts: env.DETTO_ALLOW_HOSTS.split(',')
      .filter((h) => h.trim() !== '')
      .map(parseAllowed),
    localFolders: env.DETTO_LOCAL_FOLDERS === 'yes' || (env.DETTO_LOCAL_FOLDERS === 'loopback' && loopback),
    chromium: findChromium(env.DETTO_CHROMIUM || null),
    contact: env.DETTO_CONTACT,
  };
  return known;
}
