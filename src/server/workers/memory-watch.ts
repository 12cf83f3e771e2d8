import type { ChildProcess } from 'node:child_process';
import { readFile } from 'node:fs/promises';

const EVERY_MS = 250;

/** Ends a process that takes more memory; where the system tells nobody how much it takes, only its heap is limited. */
export function watchMemory(child: ChildProcess, mostMegabytes: number): void {
  const timer = setInterval(async () => {
    const status = await readFile(`/proc/${child.pid}/status`, 'utf8').catch(() => '');
    const kilobytes = Number(/^VmRSS:\s+(\d+) kB/m.exec(status)?.[1] ?? 0);
    if (kilobytes > mostMegabytes * 1024) child.kill('SIGKILL');
  }, EVERY_MS);
  timer.unref();
  child.once('exit', () => clearInterval(timer));
}
