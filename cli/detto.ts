import { readArguments, USAGE, UsageError } from './arguments';
import { audit, failsOn } from './audit';
import { asText } from './text';

const COULD_NOT_RUN = 2;
let shown = 0;

/** One line on standard error, at most four times a second. */
function progress(line: string): void {
  const now = Date.now();
  if (now - shown < 250) return;
  shown = now;
  process.stderr.write(`detto: ${line}\n`);
}

function write(text: string): Promise<void> {
  return new Promise((resolve) => process.stdout.write(`${text}\n`, () => resolve()));
}

async function main(): Promise<number> {
  const options = readArguments(process.argv.slice(2));
  if (!options) {
    await write(USAGE);
    return 0;
  }
  // npm changes to the project's folder; paths are meant from where the person is.
  const report = await audit(options, process.env['INIT_CWD'] ?? process.cwd(), progress);
  await write(options.json ? JSON.stringify(report, null, 2) : asText(report));
  return failsOn(report, options.failOn) ? 1 : 0;
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    process.stderr.write(`detto: ${error instanceof Error ? error.message : String(error)}\n`);
    if (error instanceof UsageError) process.stderr.write(`\n${USAGE}\n`);
    process.exit(COULD_NOT_RUN);
  },
);
