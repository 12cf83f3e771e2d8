import { MemoryLimits } from '../limits/memory-limits';
import { HostGate, retryAfter } from './host-gate';

/** RFC 9110, 10.2.3 and the two examples in it. */
describe('Retry-After', () => {
  const now = Date.parse('Fri, 31 Dec 1999 23:58:59 GMT');

  test.each([
    ['120', 120_000],
    [' 0 ', 0],
    ['Fri, 31 Dec 1999 23:59:59 GMT', 60_000],
    // A time that is over asks for nothing.
    ['Fri, 31 Dec 1999 23:00:00 GMT', 0],
    ['soon', null],
    ['', null],
    [undefined, null],
  ])('%p asks for %p ms', (value, ms) => expect(retryAfter(value, now)).toBe(ms));
});

describe('the gate', () => {
  test('without a wish of the host nobody waits', async () => {
    const gate = new HostGate(0, new MemoryLimits(() => 0));
    // Whoever had to wait would give up at once.
    for (let i = 0; i < 3; i++) await gate.turn('a', AbortSignal.abort());
  });

  test('a host that waits is asked no sooner, and gives up when the survey is stopped', async () => {
    const clock = { now: 0 };
    const gate = new HostGate(0, new MemoryLimits(() => clock.now));
    await gate.pause('a', 5000);
    await expect(gate.turn('a', AbortSignal.abort(new Error('stopped')))).rejects.toThrow('stopped');
    await gate.turn('b', AbortSignal.abort());
    clock.now = 4999;
    await expect(gate.turn('a', AbortSignal.abort(new Error('stopped')))).rejects.toThrow('stopped');
    clock.now = 5000;
    await gate.turn('a', AbortSignal.abort());
  });

  test('a shorter wait does not end a longer one, and none is longer than two minutes', async () => {
    const clock = { now: 0 };
    const gate = new HostGate(0, new MemoryLimits(() => clock.now));
    const opens = () =>
      gate.turn('a', AbortSignal.abort()).then(
        () => true,
        () => false,
      );
    await gate.pause('a', 3_600_000);
    await gate.pause('a', 10);
    clock.now = 119_999;
    expect(await opens()).toBe(false);
    clock.now = 120_000;
    expect(await opens()).toBe(true);
  });

  test('crawl-delay spaces requests out, at least by the rate that the editor set and at most by half a minute', async () => {
    const clock = { now: 0 };
    const gate = new HostGate(500, new MemoryLimits(() => clock.now));
    const opens = (host: string) =>
      gate.turn(host, AbortSignal.abort()).then(
        () => true,
        () => false,
      );
    for (const [host, seconds, wait] of [
      ['slow', 2, 2000],
      ['quick', 0.1, 500],
      ['silent', null, 500],
      ['unkind', 86_400, 30_000],
    ] as const) {
      clock.now = 0;
      gate.space(host, seconds);
      expect(await opens(host)).toBe(true);
      clock.now = wait - 1;
      expect(await opens(host)).toBe(false);
      clock.now = wait;
      expect(await opens(host)).toBe(true);
    }
    clock.now = 0;
    expect(await opens('never heard of')).toBe(true);
    expect(await opens('never heard of')).toBe(false);
  });

  test('with a real clock, ten requests at twenty a second take about half a second', async () => {
    const gate = new HostGate(50);
    const begun = performance.now();
    await Promise.all(Array.from({ length: 11 }, () => gate.turn('a')));
    // Never sooner; how much later is the machine's business.
    expect(performance.now() - begun).toBeGreaterThanOrEqual(495);
  });
});
