/** @jest-environment jsdom */
import { cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { DeskPicture } from '@/contract/desk';
import type { Written } from './autosaver';
import { lookAlike, place } from '../testing/samples';
import { withoutNext } from '../testing/next';

/** Where a text goes, what it was before, and what looks alike. */
withoutNext();
const { Places } = await import('./places');
const { History } = await import('./history');
const { Alike } = await import('./similar');
const { DraftView } = await import('./draft');
afterEach(cleanup);

describe('places', () => {
  const three = [
    place('<img src=a.jpg alt="A quay">', { id: 1, pageName: 'Home' }),
    place('<img src=a.jpg>', { id: 2, pageName: 'Fares' }),
    place('<a href=/x><img src=a.jpg alt=""></a>', { id: 3, pageName: 'Boats', state: 'decorative' }),
  ];
  const show = (chosen: Written['places'], total = three.length) => {
    const given: Written['places'][] = [];
    render(
      <Places
        data={{ places: three, placesTotal: total } as DeskPicture}
        chosen={chosen}
        href={(id) => `/desk?place=${id}`}
        choose={(places) => given.push(places)}
      />,
    );
    return given;
  };
  const boxes = () => screen.getAllByRole<HTMLInputElement>('checkbox');

  test('each says its page, its line and what it says now', () => {
    show('all');
    const items = screen.getAllByRole('listitem').map((i) => i.textContent!);
    expect(items[0]).toMatch(/Home .*line 1.*“A quay”/s);
    expect(items[1]).toMatch(/Fares/);
    expect(items[2]).toMatch(/Boats functional, line 1/);
    expect(boxes().map((b) => b.checked)).toEqual([true, true, true]);
    // The shown place needs no link to itself.
    expect(screen.getAllByRole('link').map((a) => a.getAttribute('href'))).toEqual(['/desk?place=2', '/desk?place=3']);
  });

  test('one is left out, one is added, and the last one stays', async () => {
    const from = show('all');
    await userEvent.click(boxes()[1]!);
    expect(from).toEqual([new Set([1, 3])]);
    cleanup();
    const added = show(new Set([1]));
    await userEvent.click(boxes()[2]!);
    await userEvent.click(boxes()[0]!);
    expect(added).toEqual([new Set([1, 3])]);
  });

  test('all at one stroke, or this one alone', async () => {
    const given = show(new Set([2]));
    const [all, here] = screen.getAllByRole('button');
    await userEvent.click(all!);
    await userEvent.click(here!);
    expect(given).toEqual(['all', new Set([1])]);
  });

  test('of very many it says how many more there are', () => {
    show('all', 40);
    screen.getByText('in 40 of 40 places');
  });
});

describe('history', () => {
  const at = '2026-05-14T09:12:00';
  const entry = (id: number, text: string | null, state: string, by = 'person') => ({
    ...{ id, text, by, state, at, draft: null },
    act: `act-${id}`,
  });

  test('says who wrote what and its outcome', async () => {
    const own = place('<img src=a.jpg alt="A quay">', {
      history: [
        entry(4, 'A quay at low tide', 'accepted'),
        entry(3, 'Quay', 'undone'),
        entry(2, 'File a', 'rejected', 'drafter'),
        entry(1, '', 'accepted'),
      ],
    });
    const used: string[] = [];
    render(<History place={own} lang="en" now={at} use={(text) => void used.push(text)} />);
    const items = screen.getAllByRole('listitem', { hidden: true }).map((i) => i.textContent!);
    expect(items).toHaveLength(5);
    expect(items[0]).toMatch(/written: “A quay at low tide”/);
    expect(items[1]).toMatch(/written, undone since: “Quay”/);
    expect(items[2]).toMatch(/drafted, rejected: “File a”/);
    expect(items[4]).toMatch(/As found: “A quay”/);
    // Every earlier text can be used again, the page's own among them; what says nothing of its own cannot.
    for (const button of screen.getAllByRole('button', { name: /^Use again/, hidden: true }))
      await userEvent.click(button);
    expect(used).toEqual(['Quay', 'File a', '', 'A quay']);
  });

  test('of a place that had no alt text, that is what was found', () => {
    const own = place('<img src=a.jpg>');
    render(<History place={own} lang="en" now={at} use={() => {}} />);
    expect(screen.getByRole('listitem', { hidden: true }).textContent!.trim()).toBe('As found: No alt text');
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('look-alikes', () => {
  const show = (members: ReturnType<typeof lookAlike>[], total = members.length + 1) => {
    const started: string[] = [];
    render(
      <Alike
        alike={{ similarGroup: 9, total, members }}
        collection="isle"
        href={(id) => `/desk/${id}`}
        start={(text) => started.push(text)}
      />,
    );
    return started;
  };

  test('each says in what it differs, and gives its words to begin from', async () => {
    const started = show([
      lookAlike({
        differs: [{ id: 'differs.lighter' }, { id: 'differs.more', values: { colours: [{ id: 'colour.red' }] } }],
      }),
      lookAlike({ id: 7, heard: '', state: 'missing' }),
      lookAlike({ id: 8, same: true, heard: 'A puffin' }),
    ]);
    screen.getByText('Here: lighter, more red');
    const buttons = screen.getAllByRole('button');
    expect(buttons).toHaveLength(2);
    await userEvent.click(buttons[1]!);
    expect(started).toEqual(['A puffin']);
  });

  test('of a long series the best are worded with care, and the others are a link away', () => {
    show([lookAlike()], 40);
    screen.getByText(/\b5\b/);
    expect(screen.getByRole('link', { name: /all/i }).getAttribute('href')).toBe('/c/isle/galley?similarGroup=9');
  });
});

describe('the draft', () => {
  const draft = {
    text: 'Puffins on cliff',
    evidence: [
      { from: 'file name' as const, text: 'puffins on cliff' },
      {
        from: 'colours' as const,
        text: { id: 'list', values: { items: [{ id: 'colour.green' }, { id: 'colour.grey' }] } },
      },
    ],
    missing: { id: 'question.seen' },
    ...{ decorative: false, confidence: 0.5, uncertain: [], other: {} },
  };

  test('shows what it was made from, what a person has to add, and is accepted by one button', async () => {
    let accepted = 0;
    const own = place('<img src=a.jpg>');
    render(<DraftView place={own} draft={draft} lang="en" accept={() => accepted++} isTaken={false} />);
    const section = screen.getByRole('region', { name: /Draft/ });
    expect(section.textContent).toContain('“Puffins on cliff”');
    within(section).getByText('What does the picture show?');
    expect(section.textContent).toMatch(/“puffins on cliff” · .*“green, grey”/);
    await userEvent.click(within(section).getByRole('button'));
    expect(accepted).toBe(1);
  });

  test('a draft that waits is shown before one that could be made; without either there is nothing to accept', () => {
    render(
      <DraftView
        place={place('<img src=a.jpg>', { waitingDraft: 'A waiting one' })}
        draft={draft}
        lang="en"
        accept={() => {}}
        isTaken={false}
      />,
    );
    expect(screen.getByRole('region').textContent).toContain('“A waiting one”');
    cleanup();
    render(
      <DraftView
        place={place('<img src=a.jpg>')}
        draft={{ ...draft, text: null }}
        lang="en"
        accept={() => {}}
        isTaken={false}
      />,
    );
    expect(screen.queryByRole('button')).toBeNull();
  });
});
