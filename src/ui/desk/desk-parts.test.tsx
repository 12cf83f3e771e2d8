/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Conflict } from '@/contract/conflict';
import { readSource } from '@/core/formats/html/read-page';
import { ConflictView } from '../conflict/conflict-view';
import { Copy } from '../primitives/copy';
import { Strip } from '../primitives/strip';
import { History } from './history';
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

test('the history says who wrote what, offers to undo the latest, and ends with what the page says', async () => {
  const undone: string[] = [];
  const [reading] = readSource('<img src=a alt="Boat">').appearances;
  const wording = (id: number, text: string | null, act: string) => ({
    ...{ id, text, act, by: 'person', state: 'accepted', at: '2026-11-27T10:00:00Z' },
  });
  const place = { reading, history: [wording(2, 'The ferry', 'second'), wording(1, '', 'first')] } as never;
  render(
    <History
      {...{ place, lang: 'en', now: '2026-11-27T12:00:00Z', use: () => {} }}
      undo={async (a) => void undone.push(a)}
    />,
  );
  const lines = screen.getAllByRole('listitem').map((l) => l.textContent);
  expect(lines).toHaveLength(3);
  expect(lines[0]).toContain('“The ferry”');
  expect(lines[2]).toContain('“Boat”');
  await userEvent.click(screen.getByRole('button', { name: 'Undo this' }));
  expect(undone).toEqual(['second']);
});

describe('two texts for one place', () => {
  const conflict: Conflict = {
    ...{ id: 7, kind: 'page', picture: 'boat.jpg', page: 'Start', lang: 'en', places: 2 },
    ...{ first: null, theirs: '', ours: 'The ferry' },
  } as Conflict;

  test('stand beside what was found first, and each can be chosen by name', async () => {
    const chosen: unknown[] = [];
    render(<ConflictView conflict={conflict} level={2} choose={async (...choice) => void chosen.push(choice)} />);
    expect(screen.getByRole('heading', { level: 2 }).textContent).toContain('boat.jpg');
    expect(screen.getAllByRole('term')).toHaveLength(3);
    const buttons = screen.getAllByRole('button');
    expect(buttons.every((b) => b.textContent!.includes('boat.jpg'))).toBe(true);
    await userEvent.click(buttons[1]!);
    expect(chosen).toEqual([['ours', 'The ferry']]);
  });

  test('cannot be chosen twice while the first choice is under way', async () => {
    let done = () => {};
    const choose = () => new Promise<void>((resolve) => (done = resolve));
    render(<ConflictView conflict={conflict} level={3} choose={choose} />);
    const [first, second] = screen.getAllByRole<HTMLButtonElement>('button');
    await userEvent.click(first!);
    expect([first!.disabled, second!.disabled]).toEqual([true, true]);
    done();
    await screen.findAllByRole('button');
  });
});

test('what is copied is on the clipboard, and said so', async () => {
  const user = userEvent.setup();
  render(<Copy text="Winter sailings" label="Copy its lines" />);
  expect(screen.getByRole('status').textContent).toBe('');
  await user.click(screen.getByRole('button', { name: 'Copy its lines' }));
  expect(screen.getByRole('status').textContent).not.toBe('');
  expect(await navigator.clipboard.readText()).toBe('Winter sailings');
});
