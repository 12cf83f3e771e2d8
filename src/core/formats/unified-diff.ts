import { createTwoFilesPatch } from 'diff';

/** Lines of a diff around each change. */
const CONTEXT = 3;
const NO_FILE = '/dev/null';

const latin1 = (bytes: Uint8Array): string =>
  Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('latin1');

/**
 * How a file differs from what it was, as a unified diff (POSIX `diff -u`). Lines are bytes read as latin1, so that `patch`
 * can apply it whatever the encoding.
 *
 * @param file its path with forward slashes
 * @param isNew it was nowhere before
 * @returns the diff's bytes; none where nothing differs
 */
export function unifiedDiff(before: Uint8Array, after: Uint8Array, file: string, isNew: boolean): Uint8Array {
  const name = Buffer.from(file).toString('latin1');
  const [from, to] = [isNew ? NO_FILE : `a/${name}`, `b/${name}`];
  const diff = createTwoFilesPatch(from, to, latin1(before), latin1(after), undefined, undefined, { context: CONTEXT });
  return Buffer.from(diff.replace(/^=+\n/, ''), 'latin1');
}
