/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Round, RoundEstimate, RoundOrder, Service } from '@/contract/drafting';
import { withoutNext } from '../testing/next';

/** Rounds: what one would do, cost and send before it starts; how one stands; and the results of drafts. */
withoutNext();
const { ActsProvider } = await import('../frame/acts');
const { Figures } = await import('./figures');
const { RoundDialog } = await import('./round-dialog');
const { RoundLine } = await import('./round-line');
const { Services } = await import('./services');

const service: Service = {
  ...{
    id: 7,
    name: 'Harbour',
    address: 'https://models.example/v1',
    model: 'vision',
    hasKey: true,
    host: 'models.example',
  },
  ...{
    isLocal: false,
    spent: 1.5,
    priceIn: 2.5,
    priceOut: 10,
    currency: 'EUR',
    maxSide: 1024,
    atOnce: 4,
    perMinute: 60,
  },
  ...{ timeoutSeconds: 60, monthlyBudget: 20 },
};
const estimate: RoundEstimate = {
  ...{ pictures: 11, places: 14, requests: 12, seconds: 90, needsConsent: false, sends: null, cost: null },
  leftOut: [{ why: 'has-text', places: 90 }],
  languages: [
    { language: 'en', places: 10 },
    { language: 'de', places: 4 },
  ],
};
const round: Round = {
  ...{
    id: 3,
    state: 'paused',
    reason: { id: 'round.by-editor' },
    drafter: 'Harbour',
    model: 'vision',
    act: 'act-round',
  },
  ...{
    at: '2026-05-14T09:12:00Z',
    finishedAt: null,
    total: 20,
    done: 12,
    drafted: 9,
    silent: 1,
    spent: 0.25,
    budget: 1,
  },
  failures: [{ reason: { id: 'drafting.no-file' }, items: 2 }],
  ...{ currency: 'EUR', perMinute: null, toRead: 5, accepted: 2, edited: 1, rejected: 1 },
};
const asked: { address: string; body: { order?: RoundOrder } & Record<string, unknown> }[] = [];
let services: Service[];
let answer: RoundEstimate;

beforeEach(() => {
  asked.length = 0;
  services = [service];
  answer = estimate;
  localStorage.clear();
  globalThis.fetch = (async (address: string, init?: RequestInit) => {
    const body = typeof init?.body === 'string' ? (JSON.parse(init.body) as (typeof asked)[number]['body']) : {};
    asked.push({ address, body });
    const ok = (value: unknown, status = 200) => ({ ok: true, status, json: async () => value });
    if (address.endsWith('/drafting-services')) return ok(services);
    if (address.endsWith('/estimate'))
      return ok(
        body['service'] === null
          ? answer
          : {
              ...answer,
              cost: { from: 0.5, to: 1, currency: 'EUR' },
              sends: {
                host: 'models.example',
                words: 84,
                width: 640,
                height: 480,
                prompt: 'You write alternative text',
                picture: 1,
              },
              needsConsent: true,
            },
      );
    return ok({});
  }) as never;
});
afterEach(cleanup);

const around = (children: React.ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider collection="isle">{children}</ActsProvider>
    </QueryClientProvider>,
  );
const started = () => asked.find((a) => a.address.endsWith('/rounds') && a.body.order)?.body;

test('the estimate says how many, what is left out and what it costs; nothing is started by it', async () => {
  around(<RoundDialog collection="isle" target={{ kind: 'pictures', pictures: [1] }} close={() => {}} />);
  await screen.findByText('12 drafts for 11 pictures in 14 places.');
  screen.getByText(/About 2 minutes\. It costs nothing\./);
  screen.getByText('Left out in 90 places: alt text is there.');
  expect(started()).toBeUndefined();
  await userEvent.click(screen.getByRole('checkbox', { name: /German/ }));
  await userEvent.click(screen.getByRole('radio', { name: 'improve it' }));
  await userEvent.click(screen.getByRole('checkbox', { name: 'long description' }));
  await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Start' }).disabled).toBe(false));
  await userEvent.click(screen.getByRole('button', { name: 'Start' }));
  await waitFor(() =>
    expect(started()).toMatchObject({
      order: { service: null, existing: 'improve', wanted: ['longDescription'], languages: ['en'], budget: null },
    }),
  );
});

test('what a service would be sent is shown, and nothing starts before that is agreed to', async () => {
  around(<RoundDialog collection="isle" target={{ kind: 'pictures', pictures: [1] }} close={() => {}} />);
  await userEvent.click(await screen.findByRole('radio', { name: /^Harbour/ }));
  await screen.findByText(
    'Each request sends the picture (this one at 640 × 480) and 84 words of context to models.example.',
  );
  screen.getByText(/About €0\.50; up to €1\.00/);
  const start = screen.getByRole<HTMLButtonElement>('button', { name: 'Start' });
  expect(start.disabled).toBe(true);
  await userEvent.type(screen.getByLabelText(/^Spend at most/), '2');
  await userEvent.click(screen.getByRole('checkbox', { name: /^I agree/ }));
  await waitFor(() => expect(start.disabled).toBe(false));
  await userEvent.click(start);
  await waitFor(() => expect(started()).toMatchObject({ consents: true, order: { service: 7, budget: 2 } }));
});

test('a round says how far it is, why it waits, what failed, and can be resumed and stopped', async () => {
  around(<RoundLine collection="isle" round={round} now="2026-05-14T10:00:00Z" />);
  screen.getByText('paused · 12 of 20 asked · 9 drafts · nothing to say about 1 · €0.25 of €1.00 spent');
  screen.getByText('Paused by an editor.');
  screen.getByText('2 failed: The picture’s file is not stored. Survey again.');
  screen.getByText('2 accepted · 1 edited · 1 rejected');
  expect(screen.getByRole('link', { name: /^Read 5 drafts/ }).getAttribute('href')).toBe('/c/isle/rounds/read?round=3');
  await userEvent.click(screen.getByRole('button', { name: /^Resume/ }));
  expect(asked.at(-1)).toEqual({ address: '/api/collections/isle/rounds/3', body: { turn: 'resume' } });
  screen.getByRole('button', { name: /^Stop/ });
});

test('a round that is over can be taken back as a whole', async () => {
  around(<RoundLine collection="isle" round={{ ...round, state: 'done', reason: null }} now="2026-05-14T10:00:00Z" />);
  expect(screen.queryByRole('progressbar')).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: /^Undo this round/ }));
  await screen.findByText('Drafts of round 3 taken back.');
  expect(asked[0]).toEqual({ address: '/api/collections/isle/acts/act-round', body: { turn: 'undo' } });
});

test('the results of drafts stands by drafter and prompt, with the reasons', () => {
  const figures = {
    ...{
      drafter: 'Harbour',
      model: 'vision',
      prompt: '1.2',
      accepted: 12,
      edited: 4,
      changed: 0.25,
      rejected: 3,
      waiting: 7,
    },
    reasons: [
      { reason: 'wrong', drafts: 2 },
      { reason: null, drafts: 1 },
    ],
  };
  render(<Figures figures={[figures, { ...figures, drafter: null, accepted: 0, edited: 0, rejected: 0 }]} />);
  const rows = screen.getAllByRole('row');
  expect(rows).toHaveLength(2);
  expect(rows[1]!.textContent).toContain('25 % changed on average');
  expect(rows[1]!.textContent).toContain('2 says something wrong');
  expect(rows[1]!.textContent).toContain('1 no reason given');
});

test('a service is changed without its key being shown or sent again', async () => {
  around(<Services services={services} />);
  screen.getByText(
    /key stored · €2\.50 in and €10\.00 out per million tokens · 4 at once, 60 a minute · €1\.50 of €20\.00 this month/,
  );
  await userEvent.click(screen.getByRole('button', { name: 'Edit Harbour' }));
  expect(screen.getByLabelText<HTMLInputElement>('Key').value).toBe('');
  await userEvent.clear(screen.getByLabelText('Requests a minute'));
  await userEvent.type(screen.getByLabelText('Requests a minute'), '0');
  await userEvent.click(screen.getByRole('button', { name: 'Save' }));
  expect((await screen.findByRole('alert')).textContent).toMatch(/^Requests a minute: /);
  await userEvent.type(screen.getByLabelText('Requests a minute'), '{Backspace}30');
  await userEvent.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('Harbour saved.');
  const sent = asked.find((a) => a.address === '/api/drafting-services/7')!.body;
  expect(sent).toMatchObject({ perMinute: 30, monthlyBudget: 20 });
  expect('key' in sent).toBe(false);
});
