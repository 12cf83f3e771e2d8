import { WorkerPool, type WorkerHandle } from './worker-pool';

/** A hand that does as its task says: answers, hangs, or breaks down. */
class Worker implements WorkerHandle<string, string> {
  static ended = 0;
  static hired = 0;
  private answer: (answer: string) => void = () => undefined;
  private gone: () => void = () => undefined;

  constructor() {
    Worker.hired++;
  }

  send(task: string): void {
    if (task === 'hang') return;
    setImmediate(() => (task === 'break' ? this.gone() : this.answer(`did ${task}`)));
  }

  end(): void {
    Worker.ended++;
  }

  onAnswer(take: (answer: string) => void): void {
    this.answer = take;
  }

  onGone(take: () => void): void {
    this.gone = take;
  }
}

beforeEach(() => {
  Worker.ended = 0;
  Worker.hired = 0;
});
const pool = (size: number, limit = 1000) => new WorkerPool<string, string>(size, () => new Worker(), { limit });

test('tasks wait for a free hand, and no more hands are hired than allowed', async () => {
  const two = pool(2);
  expect(await Promise.all(['a', 'b', 'c', 'd'].map((task) => two.ask(task)))).toEqual([
    'did a',
    'did b',
    'did c',
    'did d',
  ]);
  expect(Worker.hired).toBe(2);
  two.close();
  expect(Worker.ended).toBe(2);
});

test('a hand that takes too long is ended, and another does what waits', async () => {
  const one = pool(1, 50);
  const [hung, next] = await Promise.allSettled([one.ask('hang'), one.ask('a')]);
  expect(hung).toMatchObject({
    status: 'rejected',
    reason: { reason: { id: 'reader.too-long', values: { seconds: 0.05 } } },
  });
  expect(next).toEqual({ status: 'fulfilled', value: 'did a' });
  expect(Worker.ended).toBe(1);
});

test('what is done soon costs no look at its processor time; what lasts is ended by that, not by the clock', async () => {
  let asked = 0;
  class Watched extends Worker {
    // It works half of the time.
    processorMs = () => Promise.resolve(++asked === 1 ? 0 : (asked - 1) * 100);
  }
  const one = new WorkerPool<string, string>(1, () => new Watched(), { limit: 600 });
  for (const task of ['a', 'b', 'c']) await one.ask(task);
  expect(asked).toBe(0);
  await expect(one.ask('hang')).rejects.toMatchObject({ reason: { id: 'reader.too-long' } });
  // 250 ms before it was watched, then 100 at each look: the fifth one ends it.
  expect(asked).toBe(5);
  one.close();
});

test('a hand that breaks down fails its own task only', async () => {
  const one = pool(1);
  const [broken, next] = await Promise.allSettled([one.ask('break'), one.ask('a')]);
  expect(broken).toMatchObject({ status: 'rejected', reason: { reason: { id: 'reader.failed' } } });
  expect(next).toEqual({ status: 'fulfilled', value: 'did a' });
});

test('what somebody waits for comes before what nobody does, and after what was asked before it', async () => {
  const one = pool(1);
  const done: string[] = [];
  const ask = (task: string, urgent = false) => one.ask(task, urgent).then((answer) => done.push(answer));
  await Promise.all([ask('a'), ask('b'), ask('c'), ask('save 1', true), ask('save 2', true)]);
  expect(done).toEqual(['did a', 'did save 1', 'did save 2', 'did b', 'did c']);
});
