import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { emptyDatabase, postgres } from '../testing/postgres';
import { MemoryLimits } from './memory-limits';

/** Turns at a host, kept in memory and in rows that several processes share. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-limits-'));
process.env['DETTO_DATA'] = folder;
if (postgres) process.env['DATABASE_URL'] = await emptyDatabase();
await import('../db/schema');
const { closeDatabase } = await import('../db/database');
const { SharedLimits } = await import('./shared-limits');
afterAll(async () => {
  await closeDatabase();
  rmSync(folder, { recursive: true, force: true });
});
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

// Two objects with rows are as two processes.
const memory = new MemoryLimits();
describe.each([
  ['memory', () => [memory, memory] as const],
  ['rows', () => [new SharedLimits(), new SharedLimits()] as const],
])('limits in %s', (name, make) => {
  test('of many who ask at the same moment, one has the turn', async () => {
    const [one, other] = make();
    const asked = await Promise.all(
      Array.from({ length: 8 }, (_, i) => (i % 2 ? one : other).take(`${name} a`, 60_000)),
    );
    expect(asked.filter((ms) => ms === 0)).toHaveLength(1);
    for (const ms of asked.filter((ms) => ms > 0)) expect(ms).toBeLessThanOrEqual(60_000);
  });

  test('the next turn comes when it is time, and not before', async () => {
    const [one, other] = make();
    expect(await one.take(`${name} b`, 150)).toBe(0);
    const ms = await other.take(`${name} b`, 150);
    expect(ms).toBeGreaterThan(0);
    await pause(ms + 5);
    expect(await other.take(`${name} b`, 150)).toBe(0);
    expect(await other.take(`${name} c`, 150)).toBe(0);
  });

  test('while it is held nobody has a turn, and a shorter time does not end a longer one', async () => {
    const [one, other] = make();
    await one.hold(`${name} d`, 60_000);
    await other.hold(`${name} d`, 10);
    await pause(20);
    expect(await other.take(`${name} d`, 0)).toBeGreaterThan(50_000);
  });
});
