import { existsSync, mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** Uploads that were never finished, and what earlier processes have left of them. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-leftovers-'));
process.env['DETTO_DATA'] = folder;
const { closeDatabase } = await import('../db/database');
const { beginUpload, finishUpload, removeLeftovers, uploadFile } = await import('./uploads');
const { withBody } = await import('../http/bodies');

afterAll(async () => {
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});

test('what no collection was made of within a day is removed at a start; the rest stays', async () => {
  const sent = async () => {
    const id = await beginUpload();
    await uploadFile(id, 'index.html', new Blob(['<p>']).stream() as never);
    return id;
  };
  const [kept, young, old] = [await sent(), await sent(), await sent()];
  await finishUpload(kept, 'Kept');
  const at = (id: string) => path.join(folder, 'dropped', id);
  const twoDaysAgo = Date.now() / 1000 - 2 * 86_400;
  for (const id of [kept, old]) utimesSync(at(id), twoDaysAgo, twoDaysAgo);
  mkdirSync(path.join(folder, 'arriving'), { recursive: true });
  writeFileSync(path.join(folder, 'arriving', 'half'), 'x');
  await removeLeftovers(Date.now());
  expect([kept, young, old].map((id) => existsSync(at(id)))).toEqual([true, true, false]);
  // Others may share the folder of a server, and be receiving it now.
  const half = path.join(folder, 'arriving', 'half');
  expect(existsSync(half)).toBe(process.env['DATABASE_URL'] !== undefined);
  const old20 = Date.now() / 1000 - 1200;
  if (existsSync(half)) utimesSync(half, old20, old20);
  await removeLeftovers(Date.now());
  expect(existsSync(half)).toBe(false);
});

describe('the body of a request', () => {
  const request = (body: string, headers: Record<string, string> = {}) =>
    new Request('http://127.0.0.1/', { method: 'POST', body, headers });
  const sizeOf = (sent: Request, limit: number) =>
    withBody(sent, limit, async (file) => (await import('node:fs/promises')).stat(file).then((s) => s.size));

  test('is read at its limit, and refused one byte over it, announced or not', async () => {
    expect(await sizeOf(request('x'.repeat(100)), 100)).toBe(100);
    await expect(sizeOf(request('x'.repeat(101)), 100)).rejects.toMatchObject({ status: 413 });
    await expect(sizeOf(request('x', { 'content-length': '101' }), 100)).rejects.toMatchObject({ status: 413 });
  });

  test('that was cut off is not read', async () => {
    const cut = sizeOf(request('x'.repeat(60), { 'content-length': '90' }), 100);
    await expect(cut).rejects.toMatchObject({
      reason: { id: 'error.body-cut', values: { arrived: 60, announced: 90 } },
    });
  });
});
