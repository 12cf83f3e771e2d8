import { parseArgs } from 'node:util';
import { z } from 'zod';
import { Scope } from '@/contract/scope';
import { ListFormat } from '@/server/lists/write-list';

export const USAGE = `Usage: npm run -s detto -- audit <folder | file | address> [options]
       npm run -s detto -- list <folder | file | address> [options]
       npm run -s detto -- draft <folder | file | address> [options]
       npm run -s detto -- apply <words.csv | words.json> <folder | file> --out FOLDER [--json]
       npm run -s detto -- doctor [--fix] [--data FOLDER]

Files are web pages, Office and OpenDocument files, EPUB, PDF, mail, Markdown and SVG; a folder may hold any of them.

Options of audit:
  --json               print one JSON object on standard output
  --fail-on LEVEL      exit with 1 from this level on: failed (default), cantTell, advice, none
  --max-pages N        pages at most, for an address (default 200)
  --max-depth N        links away from the start at most, for an address (default 5)
  --allow-host HOST    let a survey by address reach HOST[:PORT] on this machine or a private network; may be repeated
  --reading HOW        source: pages as they are sent; browser: as Chromium shows them; auto (default): in Chromium
                       where a page is empty without scripts. For an address.
  --read-text          also read what is written in the pictures, which takes a second or so for each
  --style FILE         the house style to audit by, as a collection's House style page writes it (JSON)

List takes the pictures away as a table, and brings the texts of such a table back. It takes the options of audit but for
--json, --fail-on and --read-text, and these:
  --by WHAT            picture (default) or appearance: what a row is
  --only STATE         missing, decorative or described: only these
  --format FORMAT      csv (default), xlsx or json
  --out FILE           where the table goes (default: standard output)
  --from TABLE         a table that was edited elsewhere: its column “New alt text” is put into the pages of a folder,
                       and the pages that change are written below the folder --out; the originals stay as they are

Draft proposes alt texts from what is known of each picture and its place, or by a service. It takes the options of audit but for
--fail-on and --read-text, and these:
  --service FILE       a service that sees the pictures: JSON, described in docs/drafting.md; without it, nothing is sent anywhere
  --offline            nothing is sent anywhere (default)
  --only WHICH         all (default), or missing: no alt text, a blank one, a file name or a placeholder
  --no-read-text       do not read what is written in the pictures
  --consent HOST       agree that pictures are sent to this host, which is on another machine

Apply writes the words of a list into copies of pages and documents. Each row names a place by “page” and “place”, as an audit
gives them, by “appearance” (for the same target only), or by “page” and “src” where that is one place; “alt” holds the words,
“decorative” is true or false. A row without words changes nothing. The list is CSV with these names in its first line, or a
JSON array of such rows.
  --out FOLDER         where the copies go: outside of the folder that is read; the originals stay as they are
  --json               print what was changed and refused as one JSON object

Doctor checks a data folder while Detto is not running on it: every stored file against its hash, what nothing needs, gaps in
packs, who may read it.
  --fix                fix what can be fixed; damaged files are fetched again by the next survey
  --data FOLDER        the data folder (default: DETTO_DATA, else data)

  --help               this text

Exit codes: 0 clean, 1 findings at or above the level, a folder to be fixed, pictures that could not be drafted, or words that
were refused, 2 could not run.`;

const Options = z.object({
  target: z.string().min(1),
  json: z.boolean().default(false),
  failOn: z.enum(['failed', 'cantTell', 'advice', 'none']).default('failed'),
  maxPages: z.coerce.number().int().min(1).max(100_000).default(200),
  maxDepth: z.coerce.number().int().min(0).max(100).default(5),
  reading: Scope.shape.reading,
  readText: z.boolean().default(false),
  style: z.string().min(1).optional(),
  allowHosts: z.array(z.string()).default([]),
});
export type AuditOptions = z.infer<typeof Options>;

/** What the person asked for is not a call that Detto takes. */
export class UsageError extends Error {}

export interface DoctorOptions {
  fix: boolean;
  /** The data folder; null for the one that the environment names. */
  data: string | null;
}

const ListOnly = z.object({
  by: z.enum(['picture', 'appearance']).default('picture'),
  only: z.enum(['missing', 'decorative', 'described']).optional(),
  format: ListFormat.default('csv'),
  out: z.string().min(1).optional(),
  from: z.string().min(1).optional(),
});
export type ListOptions = z.infer<typeof ListOnly>;

const DraftOnly = z.object({
  service: z.string().min(1).optional(),
  only: z.enum(['all', 'missing']).default('all'),
  consent: z.string().min(1).optional(),
});
export type DraftOptions = z.infer<typeof DraftOnly>;

/** Words of a list, the target that they are for, and the folder that the copies go to. */
export interface ApplyOptions {
  words: string;
  audit: AuditOptions;
  out: string;
}

export type Call =
  | { command: 'apply'; options: ApplyOptions }
  | { command: 'draft'; options: AuditOptions; draft: DraftOptions }
  | { command: 'audit'; options: AuditOptions }
  | { command: 'list'; options: AuditOptions; list: ListOptions }
  | { command: 'doctor'; options: DoctorOptions };

/**
 * @returns null when help was asked for
 * @throws UsageError with a sentence that says what is wrong
 */
export function readArguments(args: string[]): Call | null {
  let parsed;
  try {
    parsed = parseArgs({
      args,
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        'fail-on': { type: 'string' },
        'max-pages': { type: 'string' },
        'max-depth': { type: 'string' },
        'allow-host': { type: 'string', multiple: true },
        reading: { type: 'string' },
        'read-text': { type: 'boolean' },
        'no-read-text': { type: 'boolean' },
        service: { type: 'string' },
        offline: { type: 'boolean' },
        consent: { type: 'string' },
        style: { type: 'string' },
        fix: { type: 'boolean' },
        data: { type: 'string' },
        by: { type: 'string' },
        only: { type: 'string' },
        format: { type: 'string' },
        out: { type: 'string' },
        from: { type: 'string' },
        help: { type: 'boolean', short: 'h' },
      },
    });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
  const { values, positionals } = parsed;
  if (values.help) return null;
  const [command, target, ...more] = positionals;
  if (command === 'doctor') {
    if (target) throw new UsageError(`Doctor takes no “${target}”; name the folder with --data.`);
    return { command, options: { fix: values.fix ?? false, data: values.data ?? null } };
  }
  if (command === 'apply') {
    const [folder, ...rest] = more;
    if (!target || !folder) throw new UsageError('Say which list of words, and which folder or file it is for.');
    if (rest.length > 0) throw new UsageError(`One thing at a time: “${rest.join(' ')}” is too much.`);
    if (/^https?:/i.test(folder)) throw new UsageError('Words are applied to a folder or a file, not to an address.');
    if (!values.out) throw new UsageError('Say with --out into which folder the copies go.');
    const audit = Options.parse({ target: folder, json: values.json });
    return { command, options: { words: target, audit, out: values.out } };
  }
  if (command !== 'audit' && command !== 'list' && command !== 'draft')
    throw new UsageError(command ? `There is no command “${command}”.` : 'Say what to do.');
  if (!target) throw new UsageError(`Say what to ${command}: a folder, a file or an address.`);
  if (more.length > 0) throw new UsageError(`One thing at a time: “${more.join(' ')}” is too much.`);
  const options = Options.safeParse({
    target,
    json: values.json,
    failOn: values['fail-on'],
    maxPages: values['max-pages'],
    maxDepth: values['max-depth'],
    reading: values.reading,
    readText: command === 'draft' ? !values['no-read-text'] : values['read-text'],
    style: values.style,
    allowHosts: values['allow-host'],
  });
  const { by, only, format, out, from } = values;
  const list = ListOnly.safeParse({ by, only, format, out, from });
  if (options.success && command === 'audit') return { command, options: options.data };
  if (options.success && list.success && command === 'list') {
    if (from !== undefined && out === undefined)
      throw new UsageError('Say with --out into which folder the changed pages go.');
    return { command, options: options.data, list: list.data };
  }
  const { service, consent } = values;
  const draft = DraftOnly.safeParse({ service, only, consent });
  if (options.success && draft.success && command === 'draft') {
    if (service !== undefined && values.offline)
      throw new UsageError('A service is not offline: give --service or --offline, not both.');
    return { command, options: options.data, draft: draft.data };
  }
  const issue = (options.error ?? (command === 'draft' ? draft.error : list.error)!).issues[0]!;
  const flag = String(issue.path[0]).replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);
  throw new UsageError(`--${flag}: ${issue.message}.`);
}

/**
 * The options of an audit.
 *
 * @throws UsageError when something else is asked for
 */
export function auditOptions(args: string[]): AuditOptions {
  const call = readArguments(args);
  if (call?.command !== 'audit') throw new UsageError('That is no audit.');
  return call.options;
}
