import { jest } from '@jest/globals';
import { Autosaver, moreUrgent, type Written } from './autosaver';

const initial: Written = { text: 'as found', places: new Set([1]), by: 'person' };

function storage() {
  const kept = new Map<string, string>();
  return {
    kept,
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('keeps once after a pause, under one act, and drops the backup then', async () => {
  const where = storage();
  const saver = new Autosaver('b', initial, () => where);
  const saved: [string, string][] = [];
  saver.saveWith(async ({ text }, act) => void saved.push([text, act]));
  saver.change({ text: 'a' });
  saver.change({ text: 'ab' });
  expect(saver.get().status).toBe('unkept');
  expect(where.kept.size).toBe(1);
  await jest.advanceTimersByTimeAsync(800);
  saver.change({ text: 'abc' });
  await saver.flush();
  expect(saved.map(([text]) => text)).toEqual(['ab', 'abc']);
  expect(new Set(saved.map(([, act]) => act)).size).toBe(1);
  expect(saver.get().status).toBe('kept');
  expect(where.kept.size).toBe(0);
});

test('tries again when Detto is away, and loses nothing meanwhile', async () => {
  const where = storage();
  const saver = new Autosaver('b', initial, () => where);
  let away = true;
  const saved: string[] = [];
  saver.saveWith(async ({ text }) => {
    if (away) throw new Error('away');
    saved.push(text);
  });
  saver.change({ text: 'words' });
  await saver.flush();
  expect(saver.get().status).toBe('problem');
  expect(where.kept.size).toBe(1);
  away = false;
  await jest.advanceTimersByTimeAsync(5000);
  expect(saved).toEqual(['words']);
  expect(saver.get().status).toBe('kept');
});

test('a later page takes up what was left, under the same act', async () => {
  const where = storage();
  const first = new Autosaver('b', initial, () => where);
  const acts: string[] = [];
  first.saveWith(async (_, act) => void acts.push(act));
  first.change({ text: 'half a sen' });
  const second = new Autosaver('b', initial, () => where);
  second.saveWith(async (_, act) => void acts.push(act));
  second.restore();
  expect(second.get().value.text).toBe('half a sen');
  await Promise.all([first.flush(), second.flush()]);
  expect(new Set(acts).size).toBe(1);
});

test('shows what the page says until something is written, and again after it is taken back', () => {
  const saver = new Autosaver('b', initial, () => storage());
  saver.pageSays('new on the page');
  expect(saver.get().value.text).toBe('new on the page');
  saver.change({ text: 'mine' });
  saver.pageSays('newer');
  expect(saver.get().value.text).toBe('mine');
  saver.forget();
  saver.pageSays('newer');
  expect(saver.get().value.text).toBe('newer');
});

test('what was left is not taken up when other words were kept since', () => {
  const where = storage();
  const first = new Autosaver('b', initial, () => where);
  first.change({ text: 'left' });
  first.leave();
  const later = new Autosaver('b', { ...initial, text: 'worded in the Galley' }, () => where);
  later.restore();
  expect(later.get()).toMatchObject({ status: 'untouched', value: { text: 'worded in the Galley' } });
  expect(where.kept.size).toBe(0);
});

test('of two texts that are kept apart, the state that needs more attention is told', () => {
  expect(moreUrgent('kept', 'untouched')).toBe('kept');
  expect(moreUrgent('kept', 'unkept')).toBe('unkept');
  expect(moreUrgent('problem', 'keeping')).toBe('problem');
  expect(moreUrgent('untouched', 'untouched')).toBe('untouched');
});
