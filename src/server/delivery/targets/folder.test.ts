import {
  chmodSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { createHash } from 'node:crypto';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { DeliverableDocument, DeliveryContext } from './target';

/** A folder as a target: what it writes, what it refuses to touch, and how it takes everything back. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-folder-'));
process.env['DETTO_DATA'] = path.join(folder, 'data');
const { folderTarget } = await import('./folder');
const { DocumentRefusedError } = await import('./target');

const root = path.join(folder, 'site');
const sha = (text: string) => createHash('sha256').update(text).digest('hex');
const at = (...names: string[]) => path.join(root, ...names);
const documentAt = (file: string, before: string | null, after: string): DeliverableDocument => ({
  ...{ path: file, file, format: 'html', isNew: before === null },
  ...{ hashBefore: before === null ? null : sha(before), hashAfter: sha(after) },
  before: async () => Buffer.from(before ?? ''),
  after: async () => Buffer.from(after),
});
const context = (more: Partial<DeliveryContext<{ folder: string }>> = {}): DeliveryContext<{ folder: string }> => ({
  ...{ id: 1, collectionId: 'isle', configuration: { folder: root } },
  ...{ folder: path.join(folder, 'data', 'deliveries', '1'), startedAt: new Date('2026-12-02T09:30:00Z') },
  ...more,
});
const write = async (document: DeliverableDocument, own = context()) => (await folderTarget.open(own)).write(document);
const reasonFor = (work: Promise<unknown>) =>
  work.then(
    () => 'taken',
    (error: unknown) => (error instanceof DocumentRefusedError ? error.reason.id : `failed: ${String(error)}`),
  );

beforeEach(() => {
  rmSync(root, { recursive: true, force: true });
  mkdirSync(at('more'), { recursive: true });
  writeFileSync(at('a.html'), 'old');
  writeFileSync(at('more', 'b.html'), 'old b');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a file is replaced as a whole, keeps its permissions, and leaves nothing beside it; a dated copy is kept', async () => {
  chmodSync(at('a.html'), 0o640);
  const receipt = await write(documentAt('a.html', 'old', 'new'));
  expect(receipt).toEqual({ address: at('a.html'), hashBefore: sha('old'), hashAfter: sha('new') });
  expect(readFileSync(at('a.html'), 'utf8')).toBe('new');
  expect(statSync(at('a.html')).mode & 0o777).toBe(0o640);
  expect(readdirSync(root).sort()).toEqual(['a.html', 'more']);
  expect(readFileSync(path.join(context().folder, 'backup-2026-12-02T09-30-00', 'a.html'), 'utf8')).toBe('old');
});

test('undo gives back the very bytes, and removes what was new', async () => {
  const receipts = [
    await write(documentAt('more/b.html', 'old b', 'new b')),
    await write(documentAt('c.html', null, 'made')),
  ];
  for (const receipt of receipts) await folderTarget.undo!(receipt, context());
  expect(readFileSync(at('more', 'b.html'), 'utf8')).toBe('old b');
  expect(readdirSync(root).sort()).toEqual(['a.html', 'more']);
  // Once more changes nothing.
  for (const receipt of receipts) await folderTarget.undo!(receipt, context());
});

test('what somebody has changed since the survey, or since the delivery, is not touched', async () => {
  writeFileSync(at('a.html'), 'theirs');
  expect(await reasonFor(write(documentAt('a.html', 'old', 'new')))).toBe('target.changed');
  expect(await reasonFor(folderTarget.plan(documentAt('a.html', 'old', 'new'), { folder: root }))).toBe(
    'target.changed',
  );
  expect(readFileSync(at('a.html'), 'utf8')).toBe('theirs');
  const receipt = await write(documentAt('more/b.html', 'old b', 'new b'));
  writeFileSync(at('more', 'b.html'), 'theirs');
  expect(await folderTarget.verify!(receipt, { folder: root })).toBe('different');
  expect(await reasonFor(folderTarget.undo!(receipt, context()))).toBe('target.changed-since-delivery');
  expect(readFileSync(at('more', 'b.html'), 'utf8')).toBe('theirs');
});

test('what is there, what is new and what is gone are different cases', async () => {
  expect(await folderTarget.plan(documentAt('a.html', 'old', 'new'), { folder: root })).toEqual({ creates: false });
  expect(await folderTarget.plan(documentAt('c.html', null, 'made'), { folder: root })).toEqual({ creates: true });
  expect(await reasonFor(write(documentAt('gone.html', 'old', 'new')))).toBe('target.missing');
  expect(await reasonFor(write(documentAt('none/c.html', null, 'made')))).toBe('target.missing');
  expect(await reasonFor(write(documentAt('a.html', null, 'made')))).toBe('target.exists');
  const receipt = await write(documentAt('a.html', 'old', 'new'));
  expect(await folderTarget.verify!(receipt, { folder: root })).toBe('as-written');
  rmSync(at('a.html'));
  expect(await folderTarget.verify!(receipt, { folder: root })).toBe('gone');
});

test('a document that was written before the process ended is not written twice, and its copy stays', async () => {
  await write(documentAt('a.html', 'old', 'new'));
  const before = statSync(at('a.html')).mtimeMs;
  await write(documentAt('a.html', 'old', 'new'));
  expect(statSync(at('a.html')).mtimeMs).toBe(before);
  expect(readFileSync(path.join(context().folder, 'backup-2026-12-02T09-30-00', 'a.html'), 'utf8')).toBe('old');
});

test('nothing leads out of the folder, neither a path nor a link', async () => {
  const outside = path.join(folder, 'outside.html');
  writeFileSync(outside, 'old');
  symlinkSync(outside, at('link.html'));
  symlinkSync(folder, at('up'));
  for (const file of ['../outside.html', 'link.html', 'up/outside.html', '/etc/hosts'])
    expect([file, await reasonFor(write(documentAt(file, 'old', 'new')))]).toEqual([file, 'target.outside']);
  expect(readFileSync(outside, 'utf8')).toBe('old');
  // A link that stays inside is followed to its file, and stays a link.
  symlinkSync(at('a.html'), at('inside.html'));
  await write(documentAt('inside.html', 'old', 'new'));
  expect([readFileSync(at('a.html'), 'utf8'), readFileSync(at('inside.html'), 'utf8')]).toEqual(['new', 'new']);
  // What somebody has laid where the new file is written first is not followed either.
  symlinkSync(outside, at('more', '.b.html.detto-part'));
  await write(documentAt('more/b.html', 'old b', 'new b'));
  expect([readFileSync(outside, 'utf8'), readFileSync(at('more', 'b.html'), 'utf8')]).toEqual(['old', 'new b']);
});

test.each([
  ['site', 'target.whole-path'],
  [path.join(folder, 'none'), 'target.no-folder'],
  [path.join(folder, 'data', 'files'), 'target.own-folder'],
])('the folder %s is refused as a whole, in words', async (where, reason) => {
  mkdirSync(path.join(folder, 'data', 'files'), { recursive: true });
  const own = { folder: where };
  const id = (error: unknown) => (error as { reason: { id: string } }).reason.id;
  await expect(folderTarget.open(context({ configuration: own })).catch((e) => Promise.reject(id(e)))).rejects.toBe(
    reason,
  );
  expect(folderTarget.configuration.safeParse({ folder: ' ' }).success).toBe(false);
});
