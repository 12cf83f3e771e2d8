import { promises as fs } from 'node:fs';
import { tmpdir } from 'node:os';
import { jest } from '@jest/globals';
import { openAgain } from './open-again';

/** What was given up on a full disk is no damage once there is room. */
afterEach(() => jest.restoreAllMocks());
const failing = (...messages: string[]) => {
  let calls = 0;
  const open = async () => {
    const message = messages[calls++];
    if (message !== undefined) throw new Error(message);
    return 'open';
  };
  return { open, calls: () => calls };
};

test('an opening that was given up is tried once more where there is room', async () => {
  const once = failing('Aborted(). Build with -sASSERTIONS for more info.');
  expect(await openAgain(tmpdir(), once.open)).toBe('open');
  const twice = failing('Aborted()', 'Aborted()');
  await expect(openAgain(tmpdir(), twice.open)).rejects.toThrow('Aborted()');
  expect([once.calls(), twice.calls()]).toEqual([2, 2]);
});

test('on a full disk, or for another reason, it is not', async () => {
  const other = failing('it did not open in time');
  await expect(openAgain(tmpdir(), other.open)).rejects.toThrow('in time');
  jest.spyOn(fs, 'statfs').mockResolvedValue({ bavail: 1, bsize: 512 } as never);
  const full = failing('Aborted()');
  await expect(openAgain(tmpdir(), full.open)).rejects.toThrow('Aborted()');
  expect([other.calls(), full.calls()]).toEqual([1, 1]);
});
