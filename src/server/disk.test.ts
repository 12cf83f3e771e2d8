import { promises as fs } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { jest } from '@jest/globals';
import { faultOf } from '@/app/api/answering';
import { log } from './log';
import { DiskFullError, meansDiskFull, meansReadOnly, ReadOnlyError, whyUnwritable } from './disk';

/** What keeps the data folder from being written is distinguished from what went wrong elsewhere. */
const folder = path.join(tmpdir(), 'detto-disk');
const denied = (code: string, file?: string) =>
  Object.assign(new Error(code), { code, ...(file ? { path: file } : {}) });
afterEach(() => jest.restoreAllMocks());

test.each(['EACCES', 'EPERM', 'EROFS'])('a folder that answers %s is read-only', async (code) => {
  expect(await whyUnwritable(tmpdir())).toBeNull();
  jest.spyOn(fs, 'access').mockRejectedValue(denied(code));
  expect(await whyUnwritable(tmpdir())).toBeInstanceOf(ReadOnlyError);
});

test('a full disk is named as that first; a folder that is gone is neither', async () => {
  jest.spyOn(fs, 'access').mockRejectedValue(denied('ENOENT'));
  expect(await whyUnwritable(tmpdir())).toBeNull();
  jest.spyOn(fs, 'access').mockRejectedValue(denied('EROFS'));
  jest.spyOn(fs, 'statfs').mockResolvedValue({ bavail: 1, bsize: 512 } as never);
  expect(await whyUnwritable(tmpdir())).toBeInstanceOf(DiskFullError);
});

test('only files of the data folder speak for it, also where a library wrapped the error', () => {
  expect(meansReadOnly(denied('EACCES', path.join(folder, 'dropped')), folder)).toBe(true);
  expect(meansReadOnly(denied('EACCES', '/root/site'), folder)).toBe(false);
  expect(meansReadOnly(new Error('wrapped', { cause: new ReadOnlyError('x') }), folder)).toBe(true);
  expect([meansDiskFull(denied('EROFS')), meansReadOnly(denied('ENOSPC', folder), folder)]).toEqual([false, false]);
});

test('people get a sentence that says what to do', () => {
  const { status, error } = faultOf(new ReadOnlyError('x'));
  expect(status).toBe(503);
  expect(error).toMatch(/^The data folder cannot be written\. Check who owns it/);
});

test('the log of what nobody foresaw says what the database said, and nothing of what was to be stored', () => {
  const written: string[] = [];
  const write = jest.spyOn(log, 'error').mockImplementation(((entry: { err: Error }) => {
    written.push(`${entry.err.message} ${entry.err.stack} ${JSON.stringify(entry)}`);
  }) as never);
  const cause = new Error('division by zero');
  faultOf(new Error('Failed query: insert … params: A seal on a rock', { cause }));
  write.mockRestore();
  expect(written).toHaveLength(1);
  expect(written[0]).toContain('division by zero');
  expect(written[0]).not.toContain('A seal on a rock');
});
