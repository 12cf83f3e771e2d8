import { readlinkSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';
import type { ThreadBegun } from '@/server/workers/worker-handles';

/** Says to whoever started this thread which one of the system's it is; does nothing in a process of its own. */
export function sayBegun(): void {
  let thread: number | null = null;
  try {
    // Read in this very thread, since the call is synchronous.
    thread = Number(readlinkSync('/proc/thread-self').split('/').pop());
  } catch {
    // Only Linux has it.
  }
  parentPort?.postMessage({ thread } satisfies ThreadBegun);
}
