import { fork } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { watchMemory } from './memory-watch';
import type { WorkerHandle } from './worker-pool';

const MEMORY_LIMIT_MB = 768;
/** Small, because it is never given back; a larger one was not faster. */
const YOUNG_MB = 12;
/** Ticks of Linux's clock of processor time in a second (`CONF_CLK_TCK`, the same on all its platforms). */
const TICKS = 100;

/** Where a worker's bundle stands. @param name of its file in `src/workers` */
export const scriptOf = (name: string) => path.join(process.cwd(), 'dist', 'workers', `${name}.js`);

/** What a thread says first: its number in the system, by which its processor time is found; null where there is none. */
export interface ThreadBegun {
  thread: number | null;
}
const hasBegun = (message: unknown): message is ThreadBegun =>
  typeof message === 'object' && message !== null && 'thread' in message;

/** Milliseconds of user and system time by a `stat` file of Linux (proc(5)); null elsewhere, and of what has ended. */
async function processorTime(file: string): Promise<number | null> {
  const stat = await readFile(file, 'utf8').catch(() => null);
  // The name before may hold spaces and brackets.
  const fields = stat?.slice(stat.lastIndexOf(')') + 2).split(' ');
  const ticks = Number(fields?.[11]) + Number(fields?.[12]);
  return Number.isFinite(ticks) ? (ticks * 1000) / TICKS : null;
}

/**
 * What is read in plain JavaScript is read in a thread: it can be ended at any moment.
 *
 * @param youngMegabytes of memory for what is new: more of it means that less is collected, and it is never given back
 */
export function threadOf<Task, Answer>(script: string, youngMegabytes = YOUNG_MB): WorkerHandle<Task, Answer> {
  const limits = { maxOldGenerationSizeMb: MEMORY_LIMIT_MB, maxYoungGenerationSizeMb: youngMegabytes };
  const worker = new Worker(script, { resourceLimits: limits });
  worker.on('error', () => undefined);
  let thread: number | null = null;
  worker.on('message', (message: unknown) => {
    if (hasBegun(message)) thread = message.thread;
  });
  return {
    send: (task) => worker.postMessage(task),
    end: () => void worker.terminate(),
    // A new thread would have to be warmed up again.
    rest: () => worker.postMessage('rest'),
    // Before it has begun, none was taken.
    processorMs: async () => (thread === null ? 0 : processorTime(`/proc/self/task/${thread}/stat`)),
    onAnswer: (take) => void worker.on('message', (message) => hasBegun(message) || take(message as Answer)),
    onGone: (take) => void worker.on('exit', take),
  };
}

/** Native decoders that hang can only be ended with their process. @param mostMegabytes of all its memory */
export function processOf<Task extends object, Answer>(
  script: string,
  mostMegabytes?: number,
): WorkerHandle<Task, Answer> {
  const child = fork(script, [], {
    serialization: 'advanced',
    execArgv: [`--max-old-space-size=${MEMORY_LIMIT_MB}`],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  child.on('error', () => undefined);
  if (mostMegabytes !== undefined) watchMemory(child, mostMegabytes);
  return {
    send: (task) => void child.send(task),
    end: () => void child.kill('SIGKILL'),
    processorMs: () => processorTime(`/proc/${child.pid}/stat`),
    onAnswer: (take) => void child.on('message', take),
    onGone: (take) => void child.on('exit', take),
  };
}
