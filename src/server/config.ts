import path from 'node:path';
import { z } from 'zod';
import { findChromium } from './net/chromium';
import { parseAllowed, type Allowed } from './net/allowed';

const LEAST_TOKEN = 16;

const Environment = z.object({
  DETTO_DATA: z.string().default('data'),
  /** A PostgreSQL server instead of the embedded database; several processes may then share it and the data folder. */
  DATABASE_URL: z
    .string()
    .regex(/^(?:postgres(?:ql)?:\/\/.*)?$/, 'an address such as postgres://user@host:5432/database')
    .default(''),
  /** Whether this process does jobs besides answering requests. */
  DETTO_WORK: z.enum(['yes', 'no']).default('yes'),
  /** The key of what is sealed, 32 bytes in Base64, instead of the data folder's own. */
  DETTO_KEY: z
    .string()
    .refine((key) => key === '' || Buffer.from(key, 'base64').length === 32, '32 bytes in Base64')
    .default(''),
  DETTO_HOST: z.string().default('127.0.0.1'),
  /** Asked of everybody who comes in; needed where Detto listens on more than loopback. */
  DETTO_TOKEN: z
    .string()
    .refine((token) => token === '' || token.length >= LEAST_TOKEN, `at least ${LEAST_TOKEN} characters`)
    .default(''),
  /** Comma-separated names under which Detto answers, besides those of loopback. */
  DETTO_HOSTS: z.string().default(''),
  DETTO_PORT: z.coerce.number().int().min(1).max(65535).default(4800),
  /** Comma-separated hosts on this machine or a private network that surveys may reach. */
  DETTO_ALLOW_HOSTS: z.string().default(''),
  /** Whether folders of this machine may be surveyed by path; by default only when Detto listens on loopback. */
  DETTO_LOCAL_FOLDERS: z.enum(['yes', 'no', 'loopback']).default('loopback'),
  /** Megabytes of disk that surveys leave free, so that an editor's words can still be saved. */
  DETTO_RESERVE_MB: z.coerce.number().int().min(0).max(1_000_000).default(256),
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
  /** Null for the embedded database. */
  databaseUrl: string | null;
  works: boolean;
  /** 32 bytes; null for the key of the data folder. */
  key: Buffer | null;
  host: string;
  port: number;
  /** Null where nobody has to sign in. */
  token: string | null;
  /** In lower case, without ports. */
  hostNames: string[];
  allowedHosts: Allowed[];
  localFolders: boolean;
  /** Bytes of disk that surveys leave free. */
  reserve: number;
  /** Null where there is none. */
  chromium: string | null;
  contact: string;
}

/** Addresses to listen on that are no names to be asked under. */
const WILDCARDS = new Set(['0.0.0.0', '::', '[::]']);

let known: Config | null = null;

/**
 * The settings of the person who runs Detto, read once.
 *
 * @throws Error that names the variable when one is not valid, or when others could come in without a token
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
  if (!loopback && env.DETTO_TOKEN === '')
    throw new Error(
      `DETTO_HOST is ${env.DETTO_HOST}, where others can reach Detto, and DETTO_TOKEN is not set. Set it to a secret of at least ${LEAST_TOKEN} characters, or listen on 127.0.0.1.`,
    );
  const names = env.DETTO_HOSTS.split(',').map((h) => h.trim().toLowerCase());
  known = {
    dataDir: path.resolve(env.DETTO_DATA),
    databaseUrl: env.DATABASE_URL || null,
    works: env.DETTO_WORK === 'yes',
    key: env.DETTO_KEY ? Buffer.from(env.DETTO_KEY, 'base64') : null,
    host: env.DETTO_HOST,
    port: env.DETTO_PORT,
    token: env.DETTO_TOKEN || null,
    hostNames: [...names, env.DETTO_HOST.toLowerCase()].filter((h) => h !== '' && !WILDCARDS.has(h)),
    allowedHosts: env.DETTO_ALLOW_HOSTS.split(',')
      .filter((h) => h.trim() !== '')
      .map(parseAllowed),
    localFolders: env.DETTO_LOCAL_FOLDERS === 'yes' || (env.DETTO_LOCAL_FOLDERS === 'loopback' && loopback),
    reserve: env.DETTO_RESERVE_MB * 1_048_576,
    chromium: findChromium(env.DETTO_CHROMIUM || null),
    contact: env.DETTO_CONTACT,
  };
  return known;
}
