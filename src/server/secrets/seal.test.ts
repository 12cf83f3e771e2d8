import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** What is sealed can be read with the key of its data folder, and with nothing else. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-seal-'));
process.env['DETTO_DATA'] = folder;
const { seal, unseal } = await import('./seal');
afterAll(() => rmSync(folder, { recursive: true }));

test('what is sealed does not show, and comes back', async () => {
  const sealed = await seal('of the quay');
  expect(Buffer.from(sealed, 'base64').toString('latin1')).not.toContain('quay');
  expect(await seal('of the quay')).not.toBe(sealed);
  expect(await unseal(sealed)).toBe('of the quay');
});

test('only the owner can read the key', () =>
  expect(statSync(path.join(folder, 'secret.key')).mode & 0o777).toBe(0o600));

test('what was changed, or sealed with another key, says what to do', async () => {
  const bytes = Buffer.from(await seal('of the quay'), 'base64');
  bytes[bytes.length - 1]! ^= 1;
  await expect(unseal(bytes.toString('base64'))).rejects.toThrow('Enter it again.');
  await expect(unseal('')).rejects.toThrow('Enter it again.');
});

test('a key file that is none is not overwritten', async () => {
  const other = mkdtempSync(path.join(tmpdir(), 'detto-seal-'));
  writeFileSync(path.join(other, 'secret.key'), 'short');
  const { readOrMakeKey } = await import('./seal');
  await expect(readOrMakeKey(path.join(other, 'secret.key'))).rejects.toThrow('is not a key');
  rmSync(other, { recursive: true });
});
