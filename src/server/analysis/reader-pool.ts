import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import type { PageReading } from '@/core/appearance';
import type { StyleSheet } from '@/core/html/backgrounds';
import type { PictureReading, ReaderAnswer, ReaderTask } from './reader-tasks';

/** A page or picture took longer than this is killed, in milliseconds. */
const TASK_LIMIT = 15_000;
const MEMORY_LIMIT_MB = 768;

interface Waiting {
  task: ReaderTask;
  resolve(answer: ReaderAnswer): void;
}

interface Reader {
  process: ChildProcess;
  busy: Waiting | null;
  timer: NodeJS.Timeout | null;
}

type Asked =
  { kind: 'page'; bytes: Buffer; transport?: string; sheets: StyleSheet[] } | { kind: 'picture'; bytes: Buffer };

/**
 * Child processes that read hostile pages and pictures, one task each at a time. Processes and not threads,
 * because a native decoder that hangs can only be ended with its process.
 */
export class ReaderPool {
  private readonly readers: Reader[] = [];
  private readonly queue: Waiting[] = [];
  private nextId = 1;
  private closed = false;

  constructor(
    private readonly size: number,
    private readonly script = path.join(process.cwd(), 'dist', 'workers', 'reader.js'),
    private readonly taskLimit = TASK_LIMIT,
  ) {}

  /** @throws Error when the page cannot be read, with the reason in words */
  async page(bytes: Buffer, transport?: string, sheets: StyleSheet[] = []): Promise<PageReading> {
    const answer = await this.ask({ kind: 'page', bytes, sheets, ...(transport ? { transport } : {}) });
    if (answer.kind === 'page') return answer.reading;
    throw new Error(answer.kind === 'error' ? answer.message : 'unexpected answer');
  }

  /** @throws Error when the picture made the reader fail, with the reason in words */
  async picture(bytes: Buffer): Promise<PictureReading> {
    const answer = await this.ask({ kind: 'picture', bytes });
    if (answer.kind === 'picture') return answer.reading;
    throw new Error(answer.kind === 'error' ? answer.message : 'unexpected answer');
  }

  private ask(asked: Asked): Promise<ReaderAnswer> {
    return new Promise((resolve) => {
      this.queue.push({ task: { id: this.nextId++, ...asked }, resolve });
      this.pump();
    });
  }

  private pump(): void {
    while (this.queue.length > 0 && !this.closed) {
      const reader = this.readers.find((r) => !r.busy) ?? (this.readers.length < this.size ? this.start() : null);
      if (!reader) return;
      const waiting = this.queue.shift()!;
      reader.busy = waiting;
      reader.timer = setTimeout(() => {
        this.answer(reader, {
          id: waiting.task.id,
          kind: 'error',
          message: `it took more than ${this.taskLimit / 1000} seconds to read`,
        });
        this.drop(reader);
      }, this.taskLimit);
      reader.process.send(waiting.task);
    }
  }

  private start(): Reader {
    const child = fork(this.script, [], {
      serialization: 'advanced',
      execArgv: [`--max-old-space-size=${MEMORY_LIMIT_MB}`],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    const reader: Reader = { process: child, busy: null, timer: null };
    child.on('message', (answer: ReaderAnswer) => {
      if (reader.busy?.task.id === answer.id) this.answer(reader, answer);
      this.pump();
    });
    child.on('error', () => undefined);
    child.on('exit', () => {
      if (reader.busy)
        this.answer(reader, { id: reader.busy.task.id, kind: 'error', message: 'it made the reader fail' });
      this.drop(reader);
    });
    this.readers.push(reader);
    return reader;
  }

  private answer(reader: Reader, answer: ReaderAnswer): void {
    if (reader.timer) clearTimeout(reader.timer);
    reader.timer = null;
    reader.busy?.resolve(answer);
    reader.busy = null;
  }

  private drop(reader: Reader): void {
    const at = this.readers.indexOf(reader);
    if (at >= 0) this.readers.splice(at, 1);
    reader.process.kill('SIGKILL');
    this.pump();
  }

  /** Ends the processes; what is waiting is never answered. */
  close(): void {
    this.closed = true;
    for (const reader of [...this.readers]) reader.process.kill('SIGKILL');
  }
}
