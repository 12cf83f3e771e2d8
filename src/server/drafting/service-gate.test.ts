import { ServiceGate } from './service-gate';

/** What a service allows holds over all who ask it: at once, a minute, by priority, and while it wants to be left alone. */
const never = new AbortController().signal;
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

test('no more run at once than the service allows', async () => {
  const gate = new ServiceGate({ atOnce: 3, perMinute: 60_000 });
  let running = 0;
  let most = 0;
  const task = async () => {
    most = Math.max(most, ++running);
    await pause(15);
    running--;
  };
  await Promise.all(Array.from({ length: 12 }, () => gate.run(task, 0, never)));
  expect(most).toBe(3);
});

test('a slow rate is spread evenly, a fast one by the second', async () => {
  const slow = new ServiceGate({ atOnce: 10, perMinute: 300 });
  const at: number[] = [];
  const task = async () => void at.push(performance.now());
  await Promise.all(Array.from({ length: 4 }, () => slow.run(task, 0, never)));
  // 300 a minute is one in 200 ms.
  expect(at[3]! - at[0]!).toBeGreaterThan(550);
  const fast = new ServiceGate({ atOnce: 50, perMinute: 1_200 });
  const begun = performance.now();
  const late: number[] = [];
  await Promise.all(
    Array.from({ length: 25 }, () => fast.run(async () => void late.push(performance.now() - begun), 0, never)),
  );
  expect(late.filter((ms) => ms < 900)).toHaveLength(20);
});

test('what somebody waits for goes before what nobody does', async () => {
  const gate = new ServiceGate({ atOnce: 1, perMinute: 60_000 });
  const order: string[] = [];
  const task = (name: string) => async () => {
    order.push(name);
    await pause(5);
  };
  await Promise.all([
    gate.run(task('first'), 0, never),
    gate.run(task('round'), 0, never),
    gate.run(task('single'), 10, never),
  ]);
  expect(order).toEqual(['first', 'single', 'round']);
});

test('while the service wants to be left alone, nothing begins; the longest wish holds', async () => {
  const gate = new ServiceGate({ atOnce: 5, perMinute: 60_000 });
  gate.hold(120);
  gate.hold(10);
  expect(gate.heldMs).toBeGreaterThan(80);
  const begun = performance.now();
  await gate.run(async () => undefined, 0, never);
  expect(performance.now() - begun).toBeGreaterThan(90);
  expect(gate.heldMs).toBe(0);
});

test('what is called off before its turn never begins', async () => {
  const gate = new ServiceGate({ atOnce: 1, perMinute: 60_000 });
  const stop = new AbortController();
  let isAsked = false;
  const first = gate.run(() => pause(30), 0, never);
  const second = gate.run(async () => void (isAsked = true), 0, stop.signal);
  stop.abort();
  await expect(second).rejects.toThrow();
  await first;
  expect(isAsked).toBe(false);
});
