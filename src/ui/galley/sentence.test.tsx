/** @jest-environment jsdom */
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { jest } from '@jest/globals';
import { GalleyView, type Facets } from '@/contract/galley';

/** The sentence that says what the Galley shows: its choices, their counts, and the address they lead to. */
const shown: string[] = [];
const went: string[] = [];
const own = {
  push: (to: string) => void (shown.push(to), went.push('push')),
  replace: (to: string) => void (shown.push(to), went.push('replace')),
};
jest.unstable_mockModule('next/navigation', () => ({ useRouter: () => own }));
const { Sentence } = await import('./sentence');

const facets: Facets = {
  ...{ all: 71, todo: 44, doubtful: 32, conflict: 0, missing: 12, described: 21, decorative: 6, draft: 3 },
  ...{ rules: [{ rule: 'no-alt', pictures: 7 }], kinds: [{ kind: 'photo', pictures: 20 }] },
  ...{ appearances: 119, pages: 19 },
};
const RULES = [
  { id: 'no-alt', title: 'Missing alt text' },
  { id: 'echo', title: 'Redundant alt text' },
];
const show = (view: Partial<GalleyView> = {}, own: Partial<Facets> = {}) =>
  // In a form, the browser's own lists stand beside those that are drawn.
  render(
    <form>
      <Sentence
        collection="isle"
        view={GalleyView.parse(view)}
        facets={{ ...facets, ...own }}
        rules={RULES}
        total={12}
      />
    </form>,
  );
/** Of the choice with a label, its options, as the browser's own list has them. */
const options = (label: string) => {
  const names = ['State', 'Finding', 'Kind', 'Order'];
  const list = [...document.querySelectorAll('select')][names.indexOf(label)]!;
  return [...list.options].map((o) => o.value);
};

beforeEach(() => {
  shown.length = went.length = 0;
  jest.useFakeTimers();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

test('it reads as a sentence, and says how much it shows', () => {
  show({ state: 'missing', rule: 'no-alt' });
  const choices = screen.getAllByRole('combobox').map((c) => c.textContent);
  expect(choices).toEqual(['missing alt text', '“Missing alt text”', 'of any kind', 'most used first']);
  expect(screen.getByRole('status').textContent).toBe('12 of 71 pictures, in 119 appearances on 19 pages');
});

test('what found nothing, and two texts where there are none, are no choice', () => {
  show();
  expect(options('Finding')).toEqual(['any', 'no-alt']);
  expect(options('State')).not.toContain('conflict');
  cleanup();
  show({ rule: 'echo', state: 'conflict' }, { conflict: 0 });
  expect(options('Finding')).toEqual(['any', 'no-alt', 'echo']);
  expect(options('State')).toContain('conflict');
});

test('kinds are a choice once pictures have been looked at', () => {
  show({}, { kinds: [] });
  expect(screen.getAllByRole('combobox')).toHaveLength(3);
  cleanup();
  show();
  expect(options('Kind')).toEqual(['any', 'photo']);
});

test('a search waits for the hand to rest, and is in the address with the other choices', () => {
  show({ state: 'todo' });
  const field = screen.getByRole('searchbox');
  fireEvent.change(field, { target: { value: 'puf' } });
  jest.advanceTimersByTime(100);
  fireEvent.change(field, { target: { value: 'puffin' } });
  jest.advanceTimersByTime(240);
  expect(shown).toEqual([]);
  jest.advanceTimersByTime(20);
  const [address] = shown;
  const query = new URL(address!, 'http://detto.invalid').searchParams;
  expect([query.get('q'), query.get('state')]).toEqual(['puffin', 'todo']);
  expect(shown).toHaveLength(1);
});

test('a series can be left again', () => {
  show({ similarGroup: 9 });
  const line = screen.getByRole('status');
  fireEvent.click(within(line).getByRole('button'));
  expect(new URL(shown[0]!, 'http://detto.invalid').searchParams.get('similarGroup')).toBe('0');
});

test('each choice can be gone back from; the letters of one search are one step', () => {
  show({ similarGroup: 9, q: 'puf' });
  fireEvent.click(within(screen.getByRole('status')).getByRole('button'));
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'puffin' } });
  jest.advanceTimersByTime(260);
  expect(went).toEqual(['push', 'replace']);
  cleanup();
  show();
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'p' } });
  jest.advanceTimersByTime(260);
  expect(went.at(-1)).toBe('push');
});

test('going back to another search shows it in the field', () => {
  const { rerender } = show({ q: 'puffin' });
  expect(screen.getByRole<HTMLInputElement>('searchbox').value).toBe('puffin');
  rerender(
    <form>
      <Sentence collection="isle" view={GalleyView.parse({ q: 'seal' })} facets={facets} rules={RULES} total={1} />
    </form>,
  );
  expect(screen.getByRole<HTMLInputElement>('searchbox').value).toBe('seal');
  jest.advanceTimersByTime(1000);
  expect(shown).toEqual([]);
});
