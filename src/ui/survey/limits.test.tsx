/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Scope } from '@/contract/scope';
import { withoutNext } from '../testing/next';

/** What the next survey goes by: as it is set, changed, and refused. */
withoutNext();
const { LimitsForm } = await import('./limits-form');
const { ActsProvider } = await import('../frame/acts');
beforeEach(() => sessionStorage.clear());
afterEach(cleanup);

function show(scope: Partial<Scope> = {}, more: { hasAccess?: boolean; error?: string } = {}) {
  const sent: Record<string, FormDataEntryValue>[] = [];
  render(
    <ActsProvider collection="isle">
      <LimitsForm
        {...{ collection: 'isle', maxPages: 300, maxDepth: 4, hasAccess: more.hasAccess ?? false }}
        scope={Scope.parse(scope)}
        change={async (_, form) => {
          sent.push(Object.fromEntries(form));
          return { error: more.error ?? null };
        }}
      />
    </ActsProvider>,
  );
  document.querySelector('details')!.open = true;
  return sent;
}
const save = () => userEvent.click(screen.getByRole('button', { name: /Save/ }));

test('the fields hold what is set; what is saved is said', async () => {
  const sent = show({
    prefix: '/en/',
    include: ['/en/news/*', '/fares$'],
    perSecond: 2,
    obeyRobots: false,
    reading: 'browser',
  });
  await save();
  expect(sent[0]).toMatchObject({
    ...{
      collection: 'isle',
      maxPages: '300',
      maxDepth: '4',
      prefix: '/en/',
      include: '/en/news/*\n/fares$',
      exclude: '',
    },
    ...{ perSecond: '2', ownSite: 'on', sitemaps: 'on', reading: 'browser' },
  });
  expect(screen.getAllByRole('status').at(-1)!.textContent).not.toBe('');
});

test('a list of addresses has neither depth nor parts to choose', async () => {
  const sent = show({ follow: false });
  await save();
  expect(
    Object.keys(sent[0]!).filter((k) => ['maxPages', 'maxDepth', 'prefix', 'include', 'sitemaps'].includes(k)),
  ).toEqual([]);
  expect(sent[0]).toMatchObject({ reading: 'auto' });
});

test('secrets are never shown; one that is kept can be forgotten', async () => {
  const sent = show({}, { hasAccess: true });
  const secrets = [...document.querySelectorAll<HTMLInputElement>('input[type=password]')];
  expect(secrets.map((s) => [s.value, s.autocomplete])).toEqual([
    ['', 'off'],
    ['', 'off'],
  ]);
  await userEvent.click(document.querySelector('input[name=forgetAccess]')!);
  await save();
  expect(sent[0]).toHaveProperty('forgetAccess', 'on');
  cleanup();
  show();
  expect(document.querySelector('input[name=forgetAccess]')).toBeNull();
});

test('what is refused is said beside the form, and nothing is announced as saved', async () => {
  show({}, { error: '“/x” is not a pattern.' });
  await save();
  expect((await screen.findByRole('alert')).textContent).toBe('“/x” is not a pattern.');
  expect(screen.getAllByRole('status').at(-1)!.textContent).toBe('');
});
