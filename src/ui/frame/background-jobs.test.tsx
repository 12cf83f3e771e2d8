/** @jest-environment jsdom */
import { jest } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import type { JobProgress } from '@/contract/jobs';
import { router, withoutNext } from '../testing/next';

/** What is done in the background stands in one line, follows by itself, and draws the page again when it is done. */
withoutNext();
const { BackgroundJobs } = await import('./background-jobs');

const job = (kind: JobProgress['kind'], more: Partial<JobProgress> = {}): JobProgress => ({
  kind,
  state: 'running',
  share: null,
  error: null,
  ...more,
});
const line = () => screen.getByRole('status').textContent;

beforeEach(() => {
  jest.useFakeTimers();
  router.refreshed = 0;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

test('nothing to do is nothing to say', () => {
  render(<BackgroundJobs collection="isle" jobs={[]} />);
  expect(line()).toBe('');
});

test.each([
  [
    'what runs comes before what waits',
    [job('recheck', { state: 'waiting' }), job('analysis', { share: 0.42 })],
    'Analysing pictures: 42 %. You can go on working.',
  ],
  ['where nobody can say how far it is', [job('conclusions')], 'Comparing pictures … You can go on working.'],
  ['a survey has a place of its own', [job('survey')], ''],
  [
    'what failed says why',
    [job('audit', { state: 'failed', error: 'The disk is full.' })],
    'Checking all texts failed: The disk is full. It is tried again when Detto starts.',
  ],
])('%s', (_, jobs, says) => {
  render(<BackgroundJobs collection="isle" jobs={jobs} />);
  expect(line()).toBe(says);
});

test('it follows until everything is done, and a server that does not answer is asked again', async () => {
  const answers: (JobProgress[] | Error)[] = [[job('recheck', { share: 0.5 })], new Error('no answer'), []];
  const asked: string[] = [];
  globalThis.fetch = (async (address: string) => {
    asked.push(address);
    const answer = answers.shift()!;
    if (answer instanceof Error) throw answer;
    return { ok: true, json: async () => answer };
  }) as never;
  render(<BackgroundJobs collection="isle" jobs={[job('recheck', { share: 0.1 })]} />);
  const wait = () => act(async () => void (await jest.advanceTimersByTimeAsync(750)));
  await wait();
  expect(line()).toContain('50 %');
  await wait();
  expect(line()).toContain('50 %');
  expect(router.refreshed).toBe(0);
  await wait();
  expect(line()).toBe('');
  expect(router.refreshed).toBe(1);
  await wait();
  expect(asked).toEqual(Array(3).fill('/api/collections/isle/jobs'));
});
