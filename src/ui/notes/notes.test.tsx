/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { plain } from '@/core/model/message';
import type { Fix } from '@/core/model/finding';
import { Heard } from '../primitives/heard';
import { Note } from '../primitives/note';
import { FixButtons } from './fix-buttons';
import { IgnoreFinding } from './ignore';

/** Findings in the margin: said by mark and word, with what can be done about them. */
afterEach(cleanup);

describe('a note', () => {
  test.each([
    ['failed', 'Fails'],
    ['cantTell', 'Check'],
    ['advice', 'Improve'],
  ] as const)('that is %s says so in words', (outcome, word) => {
    render(<Note outcome={outcome} message={plain('Too long.')} />);
    expect(document.body.textContent).toBe(`${word}: Too long.`);
  });

  test('says what else follows from the same cause', () => {
    render(
      <Note
        outcome="failed"
        message={plain('No alt.')}
        also={[{ rule: 'unnamed-control', message: plain('No name.') }]}
      />,
    );
    expect(screen.getByText(/Also: No name\./)).toBeTruthy();
  });
});

test('heard words stand in the quotation marks of their language, the marked span in a rule of its own', () => {
  render(<Heard text="Foto vom Boot" lang="de" spans={[{ start: 0, end: 8, outcome: 'advice' }]} />);
  expect(document.body.textContent).toBe('„Foto vom Boot“');
  const marked = document.querySelector('u')!;
  expect([marked.textContent, marked.className]).toEqual(['Foto vom', 'u-advice']);
  expect(document.querySelector('[lang=de]')).not.toBeNull();
});

test('where spans overlap, the gravest is marked', () => {
  const spans = [
    { start: 0, end: 10, outcome: 'advice' as const },
    { start: 5, end: 10, outcome: 'failed' as const },
  ];
  render(<Heard text="0123456789" lang={null} spans={spans} />);
  expect([...document.querySelectorAll('u')].map((u) => [u.textContent, u.className])).toEqual([
    ['01234', 'u-advice'],
    ['56789', 'u-failed'],
  ]);
});

test('each fix is a button that says what it does, and applies that one', async () => {
  const applied: Fix[] = [];
  const long = 'x'.repeat(80);
  const fixes: Fix[] = [
    { kind: 'mark decorative' },
    { kind: 'accept word', word: 'skerry' },
    { kind: 'use words', text: long },
    { kind: 'use words', text: 'The whole text', part: 'text' },
  ];
  render(<FixButtons fixes={fixes} apply={(fix) => applied.push(fix)} />);
  const buttons = screen.getAllByRole('button');
  expect(buttons[0]!.textContent).toBe('Mark decorative');
  expect(buttons[1]!.textContent).toContain('skerry');
  expect(buttons[2]!.textContent!.length).toBeLessThan(80);
  expect(buttons[3]!.textContent).toContain('text');
  await userEvent.click(buttons[2]!);
  expect(applied).toEqual([{ kind: 'use words', text: long }]);
});

describe('ignoring a finding', () => {
  const given: string[][] = [];
  const ignore = async (reason: string, by: string) => void given.push([reason, by]);
  beforeEach(() => {
    given.length = 0;
    localStorage.clear();
  });

  test('asks for a reason and a name, by keyboard alone, and remembers the name', async () => {
    const user = userEvent.setup();
    render(<IgnoreFinding title="Misspelt" ignoreFinding={ignore} />);
    await user.tab();
    expect(document.activeElement!.textContent).toContain('Misspelt');
    await user.keyboard('{Enter}');
    expect(document.activeElement!.getAttribute('name')).toBe('reason');
    await user.keyboard(' A dialect word {Tab}Ann{Enter}');
    expect(given).toEqual([['A dialect word', 'Ann']]);
    expect(screen.queryByRole('textbox')).toBeNull();
    await user.click(screen.getByRole('button'));
    expect(screen.getAllByRole<HTMLInputElement>('textbox').map((f) => f.value)).toEqual(['', 'Ann']);
  });

  test('is left by Escape, and nothing is ignored', async () => {
    const user = userEvent.setup();
    render(<IgnoreFinding title="Misspelt" ignoreFinding={ignore} />);
    await user.click(screen.getByRole('button'));
    await user.keyboard('half a reason{Escape}');
    expect(screen.queryByRole('textbox')).toBeNull();
    expect(given).toEqual([]);
  });

  test('does not go without a reason', async () => {
    const user = userEvent.setup();
    render(<IgnoreFinding title="Misspelt" ignoreFinding={ignore} />);
    await user.click(screen.getByRole('button'));
    await user.keyboard('{Tab}Ann{Enter}');
    expect(given).toEqual([]);
  });
});
