import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { DEMO_KEY, DEMO_MODEL, draftingService } from '../demo/drafting-service';
import type { AuditOptions, DraftOptions } from './arguments';
import { readArguments, UsageError } from './arguments';
import { draft } from './draft';

/** Drafts on the command line: one entry for each appearance, gaps by their offsets, and what a service costs to be asked. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-draft-'));
const site = path.join(folder, 'site');
mkdirSync(site);
for (const [name, colour] of [
  ['boat', '#224466'],
  ['puffins-on-cliff', '#446622'],
  ['t', '#884422'],
] as const)
  writeFileSync(
    path.join(site, `${name}.png`),
    // Of many tones, as photographs are, so that nothing takes it for a pattern.
    await sharp(Buffer.from(Uint8Array.from({ length: 90 * 60 * 3 }, (_, i) => (i * 7919 + colour.length * i) % 251)), {
      raw: { width: 90, height: 60, channels: 3 },
    })
      .tint(colour)
      .png()
      .toBuffer(),
  );
writeFileSync(
  path.join(site, 'index.html'),
  `<html lang="en"><title>Boats</title><h1>Boats</h1>
<figure><img src="boat.png" width="300" height="200"><figcaption>The ferry at the quay. Photo: A. Marr</figcaption></figure>
<p>The puffins sit on the cliff.</p><p><img src="puffins-on-cliff.png" alt="puffins-on-cliff.png" width="300" height="200"> They stay.</p>
<p><a href="fares.html"><img src="t.png" width="300" height="200"></a></p>
<p><img src="gone.png" alt="A tall ship in the harbour"> It left.</p></html>`,
);
writeFileSync(path.join(site, 'fares.html'), '<html lang="en"><title>Fares and tickets</title><h1>Fares</h1></html>');

const service = draftingService(null);
await new Promise<void>((resolve) => service.listen(0, '127.0.0.1', resolve));
const { port } = service.address() as AddressInfo;
const file = path.join(folder, 'service.json');
const settings = {
  address: `http://127.0.0.1:${port}/v1`,
  model: DEMO_MODEL,
  keyEnv: 'DETTO_TEST_KEY',
  perMinute: 6000,
};
beforeEach(() => {
  writeFileSync(file, JSON.stringify(settings));
  process.env['DETTO_TEST_KEY'] = DEMO_KEY;
});
afterAll(() => {
  service.close();
  rmSync(folder, { recursive: true, force: true });
});

const run = (more: Partial<DraftOptions> = {}) => {
  const call = readArguments(['draft', site, '--no-read-text']);
  if (call.command !== 'draft') throw new Error('That is no draft.');
  const options: AuditOptions = call.options;
  return draft(options, { ...call.draft, ...more }, folder, () => undefined);
};

test('one entry for each appearance, with its line, its gaps in UTF-16 units, its evidence and what was found', async () => {
  const { drafts, failures } = await run();
  expect(failures).toEqual([]);
  expect(drafts.map((d) => [d.appearance, d.page, d.line, d.src, d.text])).toEqual([
    ['a1', 'index.html', 2, 'boat.png', 'The ferry at the quay, ‹what else can be seen?›'],
    ['a2', 'index.html', 3, 'puffins-on-cliff.png', 'Puffins on cliff'],
    ['a3', 'index.html', 4, 't.png', 'Fares and tickets'],
    ['a4', 'index.html', 5, 'gone.png', null],
  ]);
  const [first] = drafts;
  expect(first!.text!.slice(first!.gaps[0]!.start, first!.gaps[0]!.end)).toBe('‹what else can be seen?›');
  expect(first!.evidence).toContainEqual({ from: 'caption', text: 'The ferry at the quay. Photo: A. Marr' });
  for (const d of drafts) expect([d.confidence >= 0, d.confidence <= 1]).toEqual([true, true]);
});

test('missing are no alt, a blank one, and words that are a file name or a placeholder', async () => {
  const { drafts } = await run({ only: 'missing' });
  expect(drafts.map((d) => d.appearance)).toEqual(['a1', 'a2', 'a3']);
});

test('a service on this machine is asked, and what it cannot be given is a failure', async () => {
  const { drafts, failures } = await run({ service: file });
  expect(drafts.map((d) => d.text)).toEqual(expect.arrayContaining([expect.stringMatching(/^A wide picture in /)]));
  expect(failures).toEqual([
    { appearance: 'a4', page: 'index.html', reason: 'The picture’s file is not stored. Survey again.' },
  ]);
});

test('a key that is refused is said, and so is a file that is wrong', async () => {
  process.env['DETTO_TEST_KEY'] = 'wrong';
  const { drafts, failures } = await run({ service: file });
  expect(drafts).toEqual([]);
  expect(failures[0]!.reason).toMatch(/does not accept the key/);
  delete process.env['DETTO_TEST_KEY'];
  await expect(run({ service: file })).rejects.toThrow('the environment variable DETTO_TEST_KEY is not set');
  writeFileSync(file, JSON.stringify({ ...settings, key: 'in the file' }));
  await expect(run({ service: file })).rejects.toThrow(/Unrecognized key/);
});

test('nothing is sent to another machine before that is agreed to', async () => {
  writeFileSync(file, JSON.stringify({ ...settings, address: 'https://models.example/v1' }));
  await expect(run({ service: file })).rejects.toThrow('Agree to that with --consent models.example');
});

test('what it is called with is checked, and the command answers by its exit code', () => {
  expect(readArguments(['draft', site])).toMatchObject({ options: { readText: true }, draft: { only: 'all' } });
  expect(() => readArguments(['draft', site, '--only', 'some'])).toThrow(UsageError);
  expect(() => readArguments(['draft', site, '--service', 'x', '--offline'])).toThrow(
    /'--offline' cannot be used with option '--service/,
  );
  const { status, stdout } = spawnSync(process.execPath, ['dist/cli.js', 'draft', site, '--no-read-text'], {
    encoding: 'utf8',
  });
  expect(status).toBe(0);
  expect(stdout).toContain('“Fares and tickets”');
  expect(stdout.trim().split('\n').at(-1)).toMatch(/^3 drafts for 4 pictures; \d proposed as decorative\.$/);
});
