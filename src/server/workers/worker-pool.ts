import { UserError } from '@/core/model/user-error';

/** One that works on a task at a time: a thread or a process. */
export interface WorkerHandle<Task, Answer> {
  send(task: Task): void;
  /** Ends it at once, whatever it is doing. */
  end(): void;
  /** Frees the memory that it used; absent where only its end does that. */
  rest?(): void;
  /** Milliseconds of processor time that it has taken since it began; null where the system does not say. */
  processorMs?(): Promise<number | null>;
  onAnswer(take: (answer: Answer) => void): void;
  onGone(take: () => void): void;
}

export interface PoolOptions<Task> {
  /** Milliseconds of processor time for a task. Where the system does not say how much was taken, milliseconds. */
  limit: number | ((task: Task) => number);
  /** Workers that take only what is urgent, so that it never waits for what is not. */
  reserved?: number;
}

interface Waiting<Task, Answer> {
  task: Task;
  resolve(answer: Answer): void;
  reject(error: Error): void;
  urgent: boolean;
}

interface Member<Task, Answer> {
  handle: WorkerHandle<Task, Answer>;
  busy: Waiting<Task, Answer> | null;
  timer: NodeJS.Timeout | null;
}

/** How many times its limit a task may take by the clock: on a busy machine, or while it waits for a disk. */
const PATIENCE = 6;
/** Milliseconds before a task is watched: nearly all are done by then, and asking the system for each costs as much as a small one. */
const UNWATCHED_MS = 250;
/** Milliseconds after which something urgent that still waits gets a worker of its own. */
const URGENT_WAIT = 4_000;
/** Workers beside the others for what is urgent and has waited that long. */
const MOST_EXTRA = 2;

/** Tasks for a few workers, one each at a time; a worker that takes too long is ended and replaced. */
export class WorkerPool<Task, Answer> {
  private readonly members: Member<Task, Answer>[] = [];
  private readonly queue: Waiting<Task, Answer>[] = [];
  private readonly limitOf: (task: Task) => number;
  private readonly reserved: number;
  private closed = false;

  constructor(
    private readonly size: number,
    private readonly start: () => WorkerHandle<Task, Answer>,
    { limit, reserved = 0 }: PoolOptions<Task>,
  ) {
    this.limitOf = typeof limit === 'number' ? () => limit : limit;
    this.reserved = reserved;
  }

  /**
   * @param urgent somebody waits for it: it comes before all that is not urgent and has not begun
   * @throws UserError when the worker took too long or failed
   */
  ask(task: Task, urgent = false): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const waiting = { task, resolve, reject, urgent };
      const behind = urgent ? this.queue.findIndex((w) => !w.urgent) : -1;
      if (behind >= 0) this.queue.splice(behind, 0, waiting);
      else this.queue.push(waiting);
      this.pump();
      if (urgent && this.queue.includes(waiting)) setTimeout(() => this.helpOut(waiting), URGENT_WAIT).unref();
    });
  }

  private pump(): void {
    while (this.queue.length > 0 && !this.closed) {
      const next = this.queue[0]!;
      const room = this.size - (next.urgent ? 0 : this.reserved);
      if (this.members.filter((m) => m.busy).length >= room) return;
      this.queue.shift();
      this.give(this.members.find((m) => !m.busy) ?? this.join(), next);
    }
  }

  /** Something urgent has waited behind tasks that do not end: it is done beside them. */
  private helpOut(waiting: Waiting<Task, Answer>): void {
    const at = this.queue.indexOf(waiting);
    if (at < 0 || this.closed || this.members.length >= this.size + MOST_EXTRA) return;
    this.queue.splice(at, 1);
    this.give(this.join(), waiting);
  }

  private give(member: Member<Task, Answer>, waiting: Waiting<Task, Answer>): void {
    member.busy = waiting;
    this.watch(member, waiting);
    member.handle.send(waiting.task);
  }

  /** Ends a worker whose task has taken all of its time. */
  private watch(member: Member<Task, Answer>, waiting: Waiting<Task, Answer>): void {
    const limit = this.limitOf(waiting.task);
    const begun = Date.now();
    const later = (ms: number, take: (processorMs: number | null) => void) => {
      member.timer = setTimeout(() => {
        void (member.handle.processorMs?.() ?? Promise.resolve(null)).then((processorMs) => {
          if (member.busy === waiting) take(processorMs);
        });
      }, ms);
    };
    const from = Math.min(UNWATCHED_MS, limit);
    later(from, (before) => {
      const look = (now: number | null) => {
        const past = Date.now() - begun;
        const taken = before === null || now === null ? past : from + now - before;
        if (taken < limit && past < limit * PATIENCE) return later(Math.max(100, limit - taken), look);
        this.done(member, new UserError({ id: 'reader.too-long', values: { seconds: limit / 1000 } }));
        this.drop(member);
      };
      later(limit - from, look);
    });
  }

  private join(): Member<Task, Answer> {
    const member: Member<Task, Answer> = { handle: this.start(), busy: null, timer: null };
    member.handle.onAnswer((answer) => {
      this.done(member, answer);
      if (this.members.length > this.size) this.drop(member);
      this.pump();
    });
    member.handle.onGone(() => {
      this.done(member, new UserError({ id: 'reader.failed' }));
      this.drop(member);
    });
    this.members.push(member);
    return member;
  }

  private done(member: Member<Task, Answer>, result: Answer | Error): void {
    if (member.timer) clearTimeout(member.timer);
    member.timer = null;
    const { busy } = member;
    member.busy = null;
    if (result instanceof Error) busy?.reject(result);
    else busy?.resolve(result);
  }

  private drop(member: Member<Task, Answer>): void {
    const at = this.members.indexOf(member);
    if (at >= 0) this.members.splice(at, 1);
    member.handle.end();
    this.pump();
  }

  /** Frees the memory of workers that have nothing to do: by themselves, or else by their end until there is work again. */
  rest(): void {
    for (const member of this.members.filter((m) => !m.busy)) {
      if (member.handle.rest) member.handle.rest();
      else this.drop(member);
    }
  }

  /** Ends all workers; what is waiting is never answered. */
  close(): void {
    this.closed = true;
    for (const { handle, timer } of [...this.members]) {
      if (timer) clearTimeout(timer);
      handle.end();
    }
  }
}
