/** @jest-environment jsdom */
import { act, cleanup, render, screen } from '@testing-library/react';
import { EVERYTHING } from '@/contract/galley';
import { line } from '../testing/samples';
import { withoutNext } from '../testing/next';

/** The Galley on paper: every line, whether or not it would be in sight. */
withoutNext();
const { PrintedGalley } = await import('./printed');

let printed = 0;
beforeEach(() => {
  printed = 0;
  window.print = () => void printed++;
});
afterEach(cleanup);

const show = async (lines: ReturnType<typeof line>[], total = lines.length) =>
  act(async () => {
    render(
      <PrintedGalley
        {...{ collection: 'isle', name: 'Isle', view: { ...EVERYTHING, state: 'missing' as const }, total, lines }}
      />,
    );
  });

test('every line has its number, words, state and findings, and is printed once the pictures are there', async () => {
  await show([
    line({
      notes: [
        {
          ...{ rule: 'no-alt', outcome: 'failed', places: 1, span: null, fixes: [], also: [] },
          message: { id: 'no-alt.missing' },
        },
      ],
    }),
    line({ id: 6, state: 'decorative', heard: '' }),
    line({ id: 7, state: 'missing', heard: '', isPlace: true }),
  ]);
  const lines = screen.getAllByRole('listitem').map((l) => l.textContent!);
  expect(lines[0]).toMatch(/^1.*“Two puffins”.*Has alt text.*on 3 pages.*puffin\.jpg.*Fails.*no alt attribute/);
  expect(lines[1]).toMatch(/^2Decorative/);
  expect(lines[2]).toMatch(/^3No alt text.*Bird reserve/);
  expect(printed).toBe(1);
  expect(screen.getByRole('link', { name: 'Back to the Galley' }).getAttribute('href')).toBe(
    '/c/isle/galley?state=missing',
  );
});

test('of too many, it says that they are the first', async () => {
  await show([line()], 40_000);
  screen.getByText(/^The first 1 of 40,000 lines\./);
});
