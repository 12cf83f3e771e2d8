import path from 'node:path';
import { readArguments, UsageError } from './arguments';
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
  const call = readArguments(process.argv.slice(2));
  if (call.command === 'help') {
    await write(call.text);
    return 0;
  }
  // npm changes to the project's folder; paths are meant from where the person is.
  const cwd = process.env['INIT_CWD'] ?? process.cwd();
  if (call.command === 'doctor') {
    const { fix, data } = call.options;
    if (data) process.env['DETTO_DATA'] = path.resolve(cwd, data);
    process.umask(0o077);
    const { doctor, doctorText, isSound } = await import('./doctor');
    const found = await doctor(fix, progress);
    await write(doctorText(found));
    return isSound(found) ? 0 : 1;
  }
  if (call.command === 'move') {
    const { server, isBack, data } = call.options;
    if (data) process.env['DETTO_DATA'] = path.resolve(cwd, data);
    process.umask(0o077);
    const { move } = await import('./move');
    await write(await move(server, isBack, progress));
    return 0;
  }
  if (call.command === 'list') {
    const { list, putBack } = await import('./list');
    if (call.list.from !== undefined) {
      const { text, isWhole } = await putBack(call.options, call.list, cwd, progress);
      await write(text);
      return isWhole ? 0 : 1;
    }
    const file = await list(call.options, call.list, cwd, progress);
    if (file) await new Promise<void>((resolve) => process.stdout.write(file, () => resolve()));
    return 0;
  }
  if (call.command === 'apply') {
    const { apply, appliedText, isWhole } = await import('./apply');
    const applied = await apply(call.options, cwd, progress);
    await write(call.options.audit.json ? JSON.stringify(applied, null, 2) : appliedText(applied));
    return isWhole(applied) ? 0 : 1;
  }
  if (call.command === 'draft') {
    const { draft } = await import('./draft');
    const { draftsAsText } = await import('./drafts-as-text');
    const answer = await draft(call.options, call.draft, cwd, progress);
    await write(call.options.json ? JSON.stringify(answer, null, 2) : draftsAsText(answer));
    return answer.failures.length > 0 ? 1 : 0;
  }
  const { options } = call;
  const { audit } = await import('./audit');
  const { failsOn } = await import('./report');
  const report = await audit(options, cwd, progress);
  await write(options.json ? JSON.stringify(report, null, 2) : asText(report));
  return failsOn(report, options.failOn) ? 1 : 0;
}

main().then(
  (code) => process.exit(code),
  (error: unknown) => {
    process.stderr.write(`detto: ${error instanceof Error ? error.message : String(error)}\n`);
    if (error instanceof UsageError)
      process.stderr.write('What each command takes: npm run -s detto -- help COMMAND\n');
    process.exit(COULD_NOT_RUN);
  },
);
