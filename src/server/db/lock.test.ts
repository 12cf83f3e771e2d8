import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { lockFolder } from './lock';

const scratch = mkdtempSync(path.join(tmpdir(), 'detto-lock-'));
const started: ChildProcess[] = [];
afterAll(() => {
  for (const child of started) child.kill('SIGKILL');
  rmSync(scratch, { recursive: true });
});
const folder = (name: string) => path.join(scratch, name, 'database');

const HOLD = `import('./src/server/db/lock.ts').then((m) => m.lockFolder(process.env.FOLDER))
  .then(() => { console.log(process.pid); setInterval(() => {}, 1e6); }, (e) => { console.error(e.message); process.exit(3); });`;

/** Starts a process that takes a folder; gives back once it has it, with the number that it has in its own namespace. */
async function holder(at: string, ...before: string[]): Promise<{ child: ChildProcess; pid: number }> {
  const [command, ...args] = [...before, process.execPath, '--import', 'tsx', '-e', HOLD];
  const child = spawn(command!, args, { env: { ...process.env, FOLDER: at }, stdio: ['ignore', 'pipe', 'inherit'] });
  started.push(child);
  const [line] = (await once(child.stdout!, 'data')) as [Buffer];
  return { child, pid: Number(line.toString()) };
}

test('a folder is taken once, and can be taken again when it was released', async () => {
  const at = folder('twice');
  const release = await lockFolder(at);
  await expect(lockFolder(`${at}/`)).rejects.toThrow(
    `Detto’s data in ${at}/ is in use by process ${process.pid}. Stop that one first, or set DETTO_DATA to another folder.`,
  );
  release();
  (await lockFolder(at))();
  expect(readdirSync(`${at}.lock`)).toEqual([]);
});

test('of ten that try at the same moment, one has it at most', async () => {
  const at = folder('race');
  const all = await Promise.allSettled(Array.from({ length: 10 }, () => lockFolder(at)));
  expect(all.filter((r) => r.status === 'fulfilled').length).toBeLessThanOrEqual(1);
  for (const r of all) if (r.status === 'fulfilled') r.value();
});

test('what a killed process held is free, also while nobody has asked how it ended', async () => {
  const at = folder('killed');
  const { child } = await holder(at);
  await expect(lockFolder(at)).rejects.toThrow(`is in use by process ${child.pid}`);
  child.kill('SIGKILL');
  await once(child, 'exit');
  (await lockFolder(at))();

  // A parent that never asks leaves a zombie, as the first process of many containers does.
  const { child: parent, pid } = await holder(at, 'sh', '-c', '"$@" & exec sleep 60', 'sh');
  process.kill(pid, 'SIGKILL');
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(spawnSync('ps', ['-o', 'stat=', '-p', String(pid)]).stdout.toString()).toMatch(/^Z/);
  (await lockFolder(at))();
  parent.kill('SIGKILL');
});

test('garbage, and the lock of an older Detto, keep nobody out', async () => {
  const at = folder('garbage');
  mkdirSync(path.dirname(at), { recursive: true });
  writeFileSync(`${at}.lock`, '{"pid":1,"start":null}');
  (await lockFolder(at))();
  writeFileSync(path.join(`${at}.lock`, 'garbage'), '\0\0');
  mkdirSync(path.join(`${at}.lock`, 'a folder'));
  (await lockFolder(at))();
});

test('a path that is longer than that of a socket may be', async () => {
  const at = folder('long/'.repeat(60));
  const release = await lockFolder(at);
  await expect(lockFolder(at)).rejects.toThrow('is in use by process');
  release();
  (await lockFolder(at))();
});

const inNamespace = spawnSync('unshare', ['--pid', '--fork', '--mount-proc', 'true']).status === 0;
(inNamespace ? test : test.skip)('a process in another namespace of processes is seen, both ways', async () => {
  const at = folder('namespace');
  const { child, pid } = await holder(at, 'unshare', '--pid', '--fork', '--kill-child', '--mount-proc');
  expect(pid).toBeLessThan(100);
  await expect(lockFolder(at)).rejects.toThrow('is in use');
  child.kill('SIGKILL');
  await once(child, 'exit');
  await new Promise((resolve) => setTimeout(resolve, 200));
  const release = await lockFolder(at);
  const there = spawnSync(
    'unshare',
    ['--pid', '--fork', '--mount-proc', process.execPath, '--import', 'tsx', '-e', HOLD],
    {
      env: { ...process.env, FOLDER: at },
    },
  );
  expect(there.status).toBe(3);
  // This process waits and cannot say who it is; the system answers for it.
  expect(there.stderr.toString()).toContain('is in use by another process');
  release();
});
