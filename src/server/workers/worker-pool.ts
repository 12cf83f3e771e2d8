/** One that works on a task at a time: a thread or a process. */
export interface WorkerHandle<Task, Answer> {
  send(task: Task): void;
  /** Ends it at once, whatever it is doing. */
  end(): void;
  /** Lets go the memory that it used; absent where only its end does that. */
  rest?(): void;
  onAnswer(take: (answer: Answer) => void): void;
  onGone(take: () => void): void;
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

/** Tasks for a few hands, one each at a time; a hand that takes too long is ended and replaced. */
export class WorkerPool<Task, Answer> {
  private readonly members: Member<Task, Answer>[] = [];
  private readonly queue: Waiting<Task, Answer>[] = [];
  private closed = false;

  constructor(
    private readonly size: number,
    private readonly start: () => WorkerHandle<Task, Answer>,
    /** Milliseconds for a task. */
    private readonly limit: number,
  ) {}

  /**
   * @param urgent somebody waits for it: it comes before all that is not urgent and has not begun
   * @throws Error in words when the hand took too long or failed
   */
  ask(task: Task, urgent = false): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const waiting = { task, resolve, reject, urgent };
      const behind = urgent ? this.queue.findIndex((w) => !w.urgent) : -1;
      if (behind >= 0) this.queue.splice(behind, 0, waiting);
      else this.queue.push(waiting);
      this.pump();
    });
  }

  private pump(): void {
    while (this.queue.length > 0 && !this.closed) {
      const member = this.members.find((m) => !m.busy) ?? (this.members.length < this.size ? this.join() : null);
      if (!member) return;
      member.busy = this.queue.shift()!;
      member.timer = setTimeout(() => {
        this.done(member, new Error(`it took more than ${this.limit / 1000} seconds to read`));
        this.drop(member);
      }, this.limit);
      member.handle.send(member.busy.task);
    }
  }

  private join(): Member<Task, Answer> {
    const member: Member<Task, Answer> = { handle: this.start(), busy: null, timer: null };
    member.handle.onAnswer((answer) => {
      this.done(member, answer);
      this.pump();
    });
    member.handle.onGone(() => {
      this.done(member, new Error('it made the reader fail'));
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

  /** Gives back the memory of hands that have nothing to do: by themselves, or else by their end until there is work again. */
  rest(): void {
    for (const member of this.members.filter((m) => !m.busy)) {
      if (member.handle.rest) member.handle.rest();
      else this.drop(member);
    }
  }

  /** Ends all hands; what is waiting is never answered. */
  close(): void {
    this.closed = true;
    for (const { handle } of [...this.members]) handle.end();
  }
}
