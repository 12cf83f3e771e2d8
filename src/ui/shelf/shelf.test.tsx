/** @jest-environment jsdom */
import { act, cleanup, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { router, withoutNext } from '../testing/next';

/** The Shelf: what is on it, and what can be put there. */
withoutNext();
const { Shelf } = await import('./shelf');
afterEach(cleanup);

const entry = (more = {}) => ({
  ...{ id: 'isle', name: 'Isle', kind: 'site' as const, pages: 19, pictures: 71, described: 40, decorative: 10 },
  ...{
    missing: 12,
    doubtful: 9,
    surveyed: 'surveyed today, 09:12',
    running: false,
    root: 'https://isle.example/',
    problem: null,
  },
  ...more,
});
const asked: FormData[] = [];
const renamed: unknown[] = [];
const show = (lines = [entry()], more: { localFolders?: boolean; error?: string | null } = {}) =>
  render(
    <Shelf
      lines={lines}
      localFolders={more.localFolders ?? true}
      survey={async (_, form) => {
        asked.push(form);
        return { error: more.error ?? null };
      }}
      surveyAgain={async () => {}}
      takeOff={async () => {}}
      rename={async (form) => void renamed.push([form.get('collection'), form.get('name')])}
    />,
  );
beforeEach(() => void (asked.length = renamed.length = 0));

test('an empty shelf says what to do', () => {
  show([]);
  expect(screen.queryAllByRole('listitem')).toEqual([]);
  screen.getByLabelText('Address of the site');
  expect(screen.getByRole('heading', { level: 2 }).nextElementSibling!.textContent!.length).toBeGreaterThan(20);
});

test('each collection says how far it is; every control names its collection', () => {
  show([entry(), entry({ id: 'sound', name: 'Sound', running: true, surveyed: 'being surveyed' })]);
  const [isle, sound] = screen.getAllByRole('listitem');
  expect(isle!.textContent).toContain('surveyed today, 09:12');
  expect(sound!.textContent).toContain('being surveyed');
  for (const control of [...within(isle!).getAllByRole('link'), ...within(isle!).getAllByRole('button')])
    expect(control.textContent).toContain('Isle');
  // While it is being surveyed it is not surveyed again.
  expect(within(sound!).queryByRole('button', { name: /Survey again/ })).toBeNull();
});

test('two collections of one name show where they come from, and can be renamed', async () => {
  show([entry(), entry({ id: 'isle-2', root: '/home/ann/isle' })]);
  expect(screen.getAllByRole('listitem').map((l) => l.textContent)).toEqual([
    expect.stringContaining('https://isle.example/'),
    expect.stringContaining('/home/ann/isle'),
  ]);
  await userEvent.click(screen.getAllByRole('button', { name: 'Rename Isle' })[1]!);
  const field = within(screen.getByRole('dialog', { name: 'Rename Isle' })).getByRole('textbox');
  await userEvent.clear(field);
  await userEvent.type(field, 'Isle, draft{Enter}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(renamed).toEqual([['isle-2', 'Isle, draft']]);
});

test('one that could not be surveyed says so, and why', () => {
  const problem = {
    id: 'survey.nothing-read',
    values: { address: 'https://x.example/', reason: { id: 'skip.no-host' } },
  };
  show([entry({ surveyed: 'survey failed, today, 09:12', problem })]);
  const text = screen.getByRole('listitem').textContent!;
  expect(text).toContain('survey failed, today');
  expect(text).toContain('No page could be read. https://x.example/: no host of that name.');
});

test('taking one off asks first, and Cancel leaves it', async () => {
  show();
  await userEvent.click(screen.getByRole('button', { name: /^Remove/ }));
  const dialog = screen.getByRole('alertdialog');
  expect(dialog.textContent).toContain('Isle');
  await userEvent.click(within(dialog).getByRole('button', { name: /Keep it|Cancel/ }));
  expect(screen.queryByRole('alertdialog')).toBeNull();
});

describe('adding', () => {
  test('an address goes with its limits; what Detto has to say stands beside what was typed', async () => {
    show([], { error: '“x y” is not a web address.' });
    await userEvent.type(screen.getByLabelText('Address of the site'), 'x y');
    await userEvent.click(screen.getByRole('button', { name: 'Survey it' }));
    await screen.findByRole('alert');
    expect(Object.fromEntries(asked[0]!)).toMatchObject({ kind: 'site', where: 'x y', maxPages: '200', maxDepth: '5' });
    const field = screen.getByLabelText<HTMLInputElement>('Address of the site');
    expect([field.value, field.getAttribute('aria-invalid')]).toEqual(['x y', 'true']);
    expect(document.getElementById(field.getAttribute('aria-describedby')!)!.textContent).toContain(
      'not a web address',
    );
  });

  test('folders of this machine are offered only where that is allowed', () => {
    const offered = () => [...document.querySelectorAll('select option')].map((o) => o.getAttribute('value'));
    show([]);
    expect(offered()).toContain('folder');
    cleanup();
    show([], { localFolders: false });
    expect(offered()).not.toContain('folder');
  });

  test('a folder of files that has no page is refused in words', async () => {
    show([]);
    const input = document.querySelector<HTMLInputElement>('input[type=file][multiple]')!;
    await userEvent.upload(input, [new File(['x'], 'notes.txt')]);
    expect((await screen.findByRole('alert')).textContent!.length).toBeGreaterThan(10);
  });

  test('a ZIP is sent, and its survey opened', async () => {
    const sent: [string, string][] = [];
    const said: string[] = [];
    const before = globalThis.XMLHttpRequest;
    globalThis.XMLHttpRequest = class {
      upload: { onprogress?(event: { loaded: number }): void; onload?(): void } = {};
      status = 200;
      responseText = '{"id":"pages"}';
      onload?: () => void;
      open(method: string, to: string) {
        sent.push([method, to]);
      }
      send() {
        const status = () => said.push(screen.getByRole('status').textContent!);
        act(() => this.upload.onprogress!({ loaded: 1 }));
        status();
        act(() => this.upload.onload!());
        status();
        this.onload!();
      }
    } as never;
    show([]);
    const input = document.querySelector<HTMLInputElement>('input[type=file][accept*=zip]')!;
    await userEvent.upload(input, new File(['PK'], 'pages.zip', { type: 'application/zip' }));
    await waitFor(() => expect(router.pushed).toContain('/c/pages/survey'));
    expect(sent[0]).toEqual(['PUT', '/api/uploads/zip?name=pages']);
    expect(said).toEqual(['Sending pages.zip: 1 byte of 2 bytes …', 'pages.zip has been sent. Detto unpacks it …']);
    globalThis.XMLHttpRequest = before;
  });
});
