import { jest } from '@jest/globals';
import type { Conflict } from '@/contract/conflict';
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
  expect(saver.get().status).toBe('unsaved');
  expect(where.kept.size).toBe(1);
  await jest.advanceTimersByTimeAsync(800);
  saver.change({ text: 'abc' });
  await saver.flush();
  expect(saved.map(([text]) => text)).toEqual(['ab', 'abc']);
  expect(new Set(saved.map(([, act]) => act)).size).toBe(1);
  expect(saver.get().status).toBe('saved');
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
  expect(saver.get().status).toBe('saved');
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
  saver.syncFromServer('new on the page');
  expect(saver.get().value.text).toBe('new on the page');
  saver.change({ text: 'mine' });
  saver.syncFromServer('newer');
  expect(saver.get().value.text).toBe('mine');
  saver.forget();
  saver.syncFromServer('newer');
  expect(saver.get().value.text).toBe('newer');
});

test('what was left is taken up with the state that it was written from, so that words kept since are not replaced', async () => {
  const where = storage();
  const saver = new Autosaver('b', initial, () => where, 7);
  saver.saveWith(() => Promise.reject(new Error('away')));
  saver.change({ text: 'left' });
  await saver.flush();
  const later = new Autosaver('b', { ...initial, text: 'worded elsewhere' }, () => where, 12);
  const conflict = { id: 1 } as Conflict;
  const sent: unknown[] = [];
  later.saveWith(async ({ text }, act, since) => {
    sent.push([text, act, since]);
    return { conflicts: [conflict], revision: 13 };
  });
  later.restore();
  expect(later.get()).toMatchObject({ status: 'unsaved', value: { text: 'left' } });
  await later.flush();
  expect(sent).toEqual([['left', saver.currentAct, 7]]);
  expect(later.get()).toMatchObject({ status: 'conflict', conflicts: [conflict], value: { text: 'left' } });
  expect(later.startedFrom).toBe(7);
});

test('what was saved here is what the next text is written from', async () => {
  const saver = new Autosaver('b', initial, storage, 7);
  saver.saveWith(async () => ({ conflicts: [], revision: 9 }));
  saver.change({ text: 'saved' });
  await saver.flush();
  expect(saver.startedFrom).toBe(9);
  // What the page says by now is newer; but what is shown was written here.
  saver.syncFromServer('saved', 20);
  expect(saver.startedFrom).toBe(9);
  saver.forget();
  saver.syncFromServer('undone', 21);
  expect(saver.startedFrom).toBe(21);
});

test('a browser that stores nothing loses nothing while the page is open', async () => {
  const full = {
    ...storage(),
    setItem: () => {
      throw new Error('QuotaExceededError');
    },
  };
  const saver = new Autosaver('b', initial, () => full);
  const saved: string[] = [];
  saver.saveWith(async ({ text }) => void saved.push(text));
  saver.change({ text: 'typed' });
  await saver.flush();
  expect(saved).toEqual(['typed']);
});

test('of two texts that are kept apart, the state that needs more attention is reported', () => {
  expect(moreUrgent('saved', 'untouched')).toBe('saved');
  expect(moreUrgent('saved', 'unsaved')).toBe('unsaved');
  expect(moreUrgent('problem', 'saving')).toBe('problem');
  expect(moreUrgent('untouched', 'untouched')).toBe('untouched');
});

test('what was saved here follows what somebody else makes of it, but not an answer from before the save', async () => {
  const where = storage();
  const saver = new Autosaver('k', { text: 'Boat', places: 'all', by: 'person' }, () => where, 1);
  saver.saveWith(async () => ({ conflicts: [], revision: 5 }));
  saver.change({ text: 'A boat' });
  await saver.flush();
  // Asked for before the save, and answered after it.
  saver.syncFromServer('Boat', 4);
  expect([saver.get().value.text, saver.get().status]).toEqual(['A boat', 'saved']);
  saver.syncFromServer('A ferry', 6);
  expect([saver.get().value.text, saver.get().status, saver.currentAct]).toEqual(['A ferry', 'untouched', '']);
});

test('what somebody else saves while this is written is said, and the text stays', () => {
  const where = storage();
  const saver = new Autosaver('k2', { text: 'Boat', places: 'all', by: 'person' }, () => where, 1);
  saver.change({ text: 'A boat' });
  saver.syncFromServer('A ferry', 2);
  expect([saver.get().value.text, saver.get().meanwhile]).toEqual(['A boat', 'A ferry']);
  saver.syncFromServer('Boat', 3);
  expect(saver.get().meanwhile).toBeNull();
  saver.forget();
});

test('what is saved on leaving stays backed up for the page that comes next, which drops it once it shows it', async () => {
  const where = storage();
  const saver = new Autosaver('b', initial, () => where, 3);
  const saved: string[] = [];
  saver.saveWith(async ({ text }) => {
    saved.push(text);
    return { conflicts: [], revision: 4 };
  });
  saver.change({ text: 'typed last' });
  saver.leave();
  await saver.flush();
  expect([saved, where.kept.size]).toEqual([['typed last'], 1]);
  // Drawn before the save arrived: the text is taken up. Drawn after it: nothing is left to do.
  const early = new Autosaver('b', initial, () => where, 3);
  early.restore();
  expect(early.get().value.text).toBe('typed last');
  early.forget();
  where.setItem('b', JSON.stringify({ text: 'typed last', act: 'a', base: 'as found' }));
  const late = new Autosaver('b', { ...initial, text: 'typed last' }, () => where, 4);
  late.restore();
  expect([late.get().status, where.kept.size]).toEqual(['untouched', 0]);
});
