import type { Line, Lines } from '@/contract/galley';
import { LineStore } from './line-store';

const line = (id: number, heard = ''): Line => ({ id, heard }) as Line;
const windowOf = (offset: number, heard = ''): Lines => ({
  total: 1000,
  lines: Array.from({ length: 100 }, (_, i) => line(offset + i, heard)),
});

function store() {
  const asked: number[] = [];
  let heard = '';
  const made = new LineStore(windowOf(0), async (offset) => {
    asked.push(offset);
    return windowOf(offset, heard);
  });
  return { made, asked, say: (words: string) => (heard = words) };
}
const settled = () => new Promise((resolve) => setTimeout(resolve, 0));

test('windows are fetched once, when they are needed', async () => {
  const { made, asked } = store();
  made.need(0, 99);
  made.need(250, 310);
  made.need(260, 320);
  await settled();
  expect(asked).toEqual([200, 300]);
  expect(made.get().lines.get(310)?.id).toBe(310);
  expect(made.get().lines.has(150)).toBe(false);
});

test('after an act what is on the screen is fetched again, and the rest when it is needed', async () => {
  const { made, asked, say } = store();
  made.need(100, 199);
  await settled();
  say('new words');
  await made.reload(120, 140);
  expect(made.get().lines.get(130)?.heard).toBe('new words');
  expect(made.get().lines.get(5)?.heard).toBe('');
  made.need(0, 10);
  await settled();
  expect(asked).toEqual([100, 100, 0]);
  expect(made.get().lines.get(5)?.heard).toBe('new words');
});

test('a new first window leaves what is on the screen where it is', async () => {
  const { made } = store();
  made.need(500, 520);
  await settled();
  let told = 0;
  made.subscribe(() => told++);
  made.replace({ total: 999, lines: windowOf(0, 'first').lines });
  expect(told).toBe(1);
  expect(made.get().total).toBe(999);
  expect(made.get().lines.get(510)?.id).toBe(510);
  expect(made.get().lines.get(0)?.heard).toBe('first');
});

test('a window that could not be fetched is asked for again', async () => {
  let fails = true;
  const made = new LineStore(windowOf(0), async (offset) => {
    if (fails) throw new Error('away');
    return windowOf(offset);
  });
  made.need(100, 110);
  await settled();
  fails = false;
  made.need(100, 110);
  await settled();
  expect(made.get().lines.has(105)).toBe(true);
});
