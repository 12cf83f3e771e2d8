/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import type { LogLine, PastSurvey, SurveyLog } from '@/contract/survey';
import { withoutNext } from '../testing/next';

/** The survey's log and its history, drawn from what the server gives. */
withoutNext();
const { LogTable } = await import('./log-table');
const { PastSurveys } = await import('./past-surveys');
afterEach(cleanup);

const line = (address: string, more: Partial<LogLine> = {}): LogLine => ({
  ...{ address, kind: 'page', state: 'done', reason: null, cause: null, status: 200, foundOn: null, rendered: false },
  ...more,
});
const log = (lines: LogLine[], total = lines.length): SurveyLog => ({ lines, total, counts: { read: 2, robots: 1 } });
const shown = (given: SurveyLog, view = { what: 'all', from: 0 }) =>
  render(<LogTable collection="isle" survey={3} log={given} view={view} />);

test('each address says its outcome, and where it was found when it was not read', () => {
  shown(
    log([
      line('https://isle.example/', { status: 304 }),
      line('https://isle.example/app', { rendered: true }),
      line('https://isle.example/staff', {
        ...{ state: 'skipped', reason: { id: 'skip.robots' }, foundOn: 'https://isle.example/' },
      }),
    ]),
  );
  const lines = screen.getAllByRole('listitem').map((l) => l.textContent!);
  expect(lines[0]).toContain('not changed');
  expect(lines[1]).toMatch(/browser/i);
  expect(lines[2]).toContain('blocked by robots.txt');
  expect(lines[2]).toContain('found on https://isle.example/');
  expect(lines[0]).not.toContain('found on');
});

test('the table can be downloaded as it is filtered', () => {
  shown(log([line('https://isle.example/')]), { what: 'robots', from: 0 });
  expect(screen.getByRole('link', { name: 'Download the log (CSV)' }).getAttribute('href')).toBe(
    '/api/surveys/3/log.csv?what=robots',
  );
});

test('a long log is shown in portions, with a way on and back', () => {
  shown(log([line('https://isle.example/')], 500), { what: 'all', from: 200 });
  const links = screen.getAllByRole('link').map((a) => a.getAttribute('href'));
  expect(links).toContain('/c/isle/survey?what=all&from=0');
  expect(links).toContain('/c/isle/survey?what=all&from=201');
});

test('an empty log says so', () => {
  shown(log([]), { what: 'skipped', from: 0 });
  expect(screen.queryAllByRole('listitem')).toEqual([]);
  expect(document.querySelector('section')!.textContent!.length).toBeGreaterThan(20);
});

describe('past surveys', () => {
  const past = (id: number, summary: Partial<PastSurvey['summary'] & object> | null): PastSurvey => ({
    ...{ id, state: summary ? 'done' : 'stopped', startedAt: `on day ${id}` },
    summary: summary && {
      ...{ pages: 4, pictures: 9, newPages: 0, changedPages: 0, gonePages: 0, described: 5, decorative: 2, missing: 2 },
      ...summary,
    },
  });

  test('one alone is no history', () => {
    const { container } = render(<PastSurveys past={[past(1, {})]} />);
    expect(container.textContent).toBe('');
  });

  test('each says what it found beside the one before', () => {
    render(<PastSurveys past={[past(3, { newPages: 1, gonePages: 2 }), past(2, {}), past(1, null)]} />);
    const lines = screen.getAllByRole('listitem').map((l) => l.textContent);
    expect(lines[0]).toContain('1 page new, 0 changed, 2 gone.');
    expect(lines[1]).toContain('Nothing has changed since the survey before.');
    expect(lines[2]).toContain('stopped');
  });
});
