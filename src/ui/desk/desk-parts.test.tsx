/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Copy } from '../primitives/copy';
import { Strip } from '../primitives/strip';
import { Measure } from './measure';
import { Questions } from './questions';

/** The parts of the Desk, each by itself. */
afterEach(cleanup);

test('the measure says the length and the limit in words', () => {
  render(<Measure length={142} limit={100} />);
  expect(document.body.textContent).toContain('142 characters');
  expect(document.body.textContent).toContain('100, house limit');
});

test('the strip of four fillings says in words what it shows', () => {
  render(<Strip described={23} decorative={6} missing={12} doubtful={0} />);
  const strip = screen.getByRole('img', { name: '23 with alt text, 6 decorative, 12 missing, 0 to check' });
  expect(strip.children).toHaveLength(3);
});

test('the questions are answered from the evidence; an editor answers otherwise, and sets the purpose', async () => {
  const settled: string[] = [];
  const known = { control: { answer: 'no', reason: { id: 'answer.no-control' } } };
  render(<Questions known={known} settle={async (purpose) => void settled.push(purpose)} />);
  expect(screen.getAllByRole('group', { hidden: true }).length).toBeGreaterThan(1);
  expect(document.body.textContent).toContain('no link or button is around it');
  expect(screen.queryByRole('button', { name: /Set purpose/i, hidden: true })).toBeNull();
  const [first] = screen.getAllByRole<HTMLInputElement>('radio', { hidden: true });
  await userEvent.click(first!);
  expect(document.body.textContent).not.toContain('no link or button is around it');
  await userEvent.click(screen.getByRole('button', { hidden: true }));
  expect(settled).toEqual(['functional']);
});

test('what is copied is on the clipboard, and said so', async () => {
  const user = userEvent.setup();
  render(<Copy text="Winter sailings" label="Copy its lines" />);
  expect(screen.getByRole('status').textContent).toBe('');
  await user.click(screen.getByRole('button', { name: 'Copy its lines' }));
  expect(screen.getByRole('status').textContent).not.toBe('');
  expect(await navigator.clipboard.readText()).toBe('Winter sailings');
});
