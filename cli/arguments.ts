import { Command, CommanderError, InvalidArgumentError, Option } from 'commander';
import { Scope } from '@/contract/scope';
import { ListFormat } from '@/server/lists/write-list';

/** What the person asked for is not a call that Detto takes. */
export class UsageError extends Error {}

const LEVELS = ['failed', 'cantTell', 'advice', 'none'] as const;
const ROWS = ['picture', 'appearance'] as const;
const STATES = ['missing', 'decorative', 'described'] as const;
const DRAFTED = ['all', 'missing'] as const;

/** How pages and pictures are gathered, and what they are judged by. */
export interface AuditOptions {
  /** A folder, a file or an address. */
  target: string;
  json: boolean;
  failOn: (typeof LEVELS)[number];
  maxPages: number;
  maxDepth: number;
  reading: Scope['reading'];
  readText: boolean;
  /** File of the house style. */
  style?: string;
  allowHosts: string[];
}

export interface MoveOptions {
  /** Address of the PostgreSQL server. */
  server: string;
  /** From the server into the data folder; otherwise the other way. */
  isBack: boolean;
  /** Null for what the environment says. */
  data: string | null;
}

export interface DoctorOptions {
  fix: boolean;
  /** The data folder; null for the one that the environment names. */
  data: string | null;
}

export interface ListOptions {
  by: (typeof ROWS)[number];
  only?: (typeof STATES)[number];
  format: ListFormat;
  out?: string;
  from?: string;
}

export interface DraftOptions {
  /** File that describes the service; nothing is sent anywhere where it is not given. */
  service?: string;
  only: (typeof DRAFTED)[number];
  consent?: string;
}

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
  | { command: 'doctor'; options: DoctorOptions }
  | { command: 'move'; options: MoveOptions }
  /** Somebody asked what there is. */
  | { command: 'help'; text: string };

const GATHERING: Omit<AuditOptions, 'target'> = {
  ...{ json: false, failOn: 'failed', maxPages: 200, maxDepth: 5, reading: 'auto', readText: false, allowHosts: [] },
};

const wholeNumber =
  (least: number, most: number) =>
  (given: string): number => {
    const value = Number(given);
    if (/^\d+$/.test(given) && value >= least && value <= most) return value;
    throw new InvalidArgumentError(`A whole number from ${least} to ${most} is wanted.`);
  };

const TARGET = ['<target>', 'a folder, a file or an address'] as const;

/** Options of every command that gathers pages and pictures. */
function gathers(command: Command): Command {
  return command
    .argument(...TARGET)
    .option('--max-pages <n>', 'pages at most, for an address', wholeNumber(1, 100_000), GATHERING.maxPages)
    .option('--max-depth <n>', 'links away from the start at most, for an address', wholeNumber(0, 100), 5)
    .option(
      '--allow-host <host[:port]>',
      'let a survey by address reach a host on this machine or a private network; may be repeated',
      (host: string, before: string[] | undefined) => [...(before ?? []), host],
    )
    .addOption(
      new Option(
        '--reading <how>',
        'source: pages as they are sent; browser: as Chromium shows them; auto: in Chromium where a page is empty without scripts. For an address.',
      )
        .choices(Scope.shape.reading.unwrap().options)
        .default(GATHERING.reading),
    )
    .option('--style <file>', 'the house style, as a collection’s House style page writes it (JSON)');
}

/** Options of {@link gathers} that mean nothing where files are read. */
const OF_ADDRESSES = ['maxPages', 'maxDepth', 'allowHost', 'reading'];

/**
 * The options of {@link gathers}, with those that a command does not have as they are by default.
 *
 * @throws UsageError where one was given that means nothing for the target
 */
const gathered = (
  target: string,
  { allowHost, ...given }: Partial<AuditOptions> & { allowHost?: string[] },
  command?: Command,
): AuditOptions => {
  const idle = /^https?:/i.test(target)
    ? undefined
    : command?.options.find(
        (o) => OF_ADDRESSES.includes(o.attributeName()) && command.getOptionValueSource(o.attributeName()) === 'cli',
      );
  if (idle) throw new UsageError(`${idle.long} is for an address, and “${target}” is none.`);
  const { json, failOn, maxPages, maxDepth, reading, readText, style } = { ...GATHERING, ...given };
  return {
    ...{ target, json, failOn, maxPages, maxDepth, reading, readText, allowHosts: allowHost ?? [] },
    ...(style === undefined ? {} : { style }),
  };
};

/** The commands, each with its own options; `called` is given what was asked for. */
function program(called: (call: Call) => void): Command {
  const detto = new Command('detto')
    .description('Alternative text of the pictures of a site or of documents: audit it, list it, draft it, put it in.')
    .usage('<command> [options]')
    .helpCommand('help [command]', 'say what a command takes')
    .addHelpText(
      'after',
      `
Files are web pages, Office and OpenDocument files, EPUB, PDF, mail, Markdown and SVG; a folder or a ZIP may hold any of them.

Exit codes: 0 clean, 1 findings at or above the level, a folder to be fixed, pictures that could not be drafted, or words that
were refused, 2 could not run.`,
    );
  gathers(detto.command('audit').description('Find missing and poor alternative text'))
    .option('--json', 'print one JSON object on standard output')
    .addOption(
      new Option('--fail-on <level>', 'exit with 1 from this level on').choices(LEVELS).default(GATHERING.failOn),
    )
    .option('--read-text', 'also read what is written in the pictures, which takes a second or so for each')
    .action((target: string, options, command: Command) =>
      called({ command: 'audit', options: gathered(target, options, command) }),
    );
  gathers(detto.command('list').description('Take the pictures away as a table, or bring the texts of one back'))
    .addOption(new Option('--by <what>', 'what a row is').choices(ROWS).default('picture'))
    .addOption(new Option('--only <state>', 'only pictures in this state').choices(STATES))
    .addOption(new Option('--format <format>', 'of the table').choices(ListFormat.options).default('csv'))
    .option('--out <file>', 'where the table goes (default: standard output); with --from, the folder of changed pages')
    .addOption(
      new Option(
        '--from <table>',
        'a table that was edited elsewhere: its column “New alt text” is put into copies of the pages of a folder; the originals stay as they are',
      ).conflicts(['by', 'only', 'format']),
    )
    .action((target: string, given: ListOptions & Partial<AuditOptions>, command: Command) => {
      const { by, only, format, out, from, ...options } = given;
      if (from !== undefined && out === undefined)
        throw new UsageError('Say with --out into which folder the changed pages go.');
      const list = { by, format, ...(only ? { only } : {}), ...(out ? { out } : {}), ...(from ? { from } : {}) };
      called({ command: 'list', options: gathered(target, options, command), list });
    });
  gathers(detto.command('draft').description('Propose alt texts from what is known of each picture, or by a service'))
    .option('--json', 'print one JSON object on standard output')
    .option('--service <file>', 'a service that sees the pictures: JSON, described in docs/drafting.md')
    .addOption(
      new Option('--offline', 'nothing is sent anywhere, which is so without --service as well').conflicts('service'),
    )
    .addOption(
      new Option('--only <which>', 'missing: no alt text, a blank one, a file name or a placeholder')
        .choices(DRAFTED)
        .default('all'),
    )
    .option('--no-read-text', 'do not read what is written in the pictures')
    .option('--consent <host>', 'agree that pictures are sent to this host, which is on another machine')
    .action((target: string, given: DraftOptions & Partial<AuditOptions>, command: Command) => {
      const { service, only, consent, ...options } = given;
      if (consent && !service) throw new UsageError('--consent is for a --service, and none is given.');
      const draft = { only, ...(service ? { service } : {}), ...(consent ? { consent } : {}) };
      called({ command: 'draft', options: gathered(target, options, command), draft });
    });
  detto
    .command('apply')
    .description('Write the words of a list into copies of pages and documents')
    .argument('<words>', 'the list: CSV or JSON')
    .argument('<target>', 'the folder or file that it is for')
    .requiredOption(
      '--out <folder>',
      'where the copies go: outside of the folder that is read; the originals stay as they are',
    )
    .option('--json', 'print what was changed and refused as one JSON object')
    .addHelpText(
      'after',
      `
Each row names a place by “page” and “place”, as an audit gives them, by “appearance” (for the same target only), or by “page”
and “src” where that is one place; “alt” holds the words, “decorative” is true or false. A row without words changes nothing.
The list is CSV with these names in its first line, or a JSON array of such rows.`,
    )
    .action((words: string, target: string, { out, json }: { out: string; json?: boolean }) => {
      if (/^https?:/i.test(target)) throw new UsageError('Words are applied to a folder or a file, not to an address.');
      called({ command: 'apply', options: { words, audit: gathered(target, { json: json ?? false }), out } });
    });
  detto
    .command('doctor')
    .description(
      'Check a data folder while Detto is not running on it: every stored file against its hash, what nothing needs, gaps in packs, who may read it',
    )
    .option('--fix', 'fix what can be fixed; damaged files are fetched again by the next survey')
    .option('--data <folder>', 'the data folder (default: DETTO_DATA, else data)')
    .action(({ fix, data }: { fix?: boolean; data?: string }) =>
      called({ command: 'doctor', options: { fix: fix ?? false, data: data ?? null } }),
    );
  detto
    .command('move')
    .description(
      'Copy all that a data folder’s own database holds to a PostgreSQL server, or back, and compare both; files stay in the data folder, and nothing is changed where it comes from',
    )
    .option('--to <address>', 'the server’s address: postgres://user@host:5432/database')
    .option('--from <address>', 'the server’s address, to copy from it into the data folder')
    .option('--data <folder>', 'the data folder (default: DETTO_DATA, else data)')
    .action(({ to, from, data }: { to?: string; from?: string; data?: string }) => {
      const server = to ?? from;
      if (server === undefined || (to !== undefined && from !== undefined))
        throw new UsageError('Say either --to or --from, with the address of the server.');
      if (!/^postgres(?:ql)?:\/\//.test(server))
        throw new UsageError('The address of the server is one such as postgres://user@host:5432/database.');
      called({ command: 'move', options: { server, isBack: from !== undefined, data: data ?? null } });
    });
  return detto;
}

/**
 * What a call of the command line asks for.
 *
 * @throws UsageError with a sentence that says what is wrong
 */
export function readArguments(args: readonly string[]): Call {
  let call: Call | null = null;
  let help = '';
  const detto = program((asked) => (call = asked));
  for (const command of [detto, ...detto.commands])
    command.exitOverride().configureOutput({ writeOut: (text) => (help += text), writeErr: () => undefined });
  if (args.length === 0) throw new UsageError('Say what to do: audit, list, draft, apply, doctor or move.');
  try {
    detto.parse(args, { from: 'user' });
  } catch (error) {
    if (!(error instanceof CommanderError)) throw error;
    if (error.exitCode === 0) return { command: 'help', text: help.trimEnd() };
    throw new UsageError(sentence(error.message));
  }
  return call!;
}

/** A message of the parser as a sentence: “error: unknown option '--x'” begins with a capital and ends with a full stop. */
function sentence(message: string): string {
  const said = message.replace(/^error:\s*/i, '').trim();
  return said.charAt(0).toUpperCase() + said.slice(1).replace(/(?<![.?)])$/, '.');
}

/**
 * The options of an audit.
 *
 * @throws UsageError when something else is asked for
 */
export function auditOptions(args: readonly string[]): AuditOptions {
  const call = readArguments(args);
  if (call.command !== 'audit') throw new UsageError('That is no audit.');
  return call.options;
}
