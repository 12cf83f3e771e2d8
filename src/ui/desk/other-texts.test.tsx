/** @jest-environment jsdom */
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { TextVersion } from '@/contract/desk';
import type { Placement } from '@/core/model/texts';
import { fileNameProblem } from '@/core/picture/file-name';
import { fieldText, place } from '../testing/samples';
import { CreditFold } from './credit';
import { PlacementChoice } from './placement';
import { TextFieldFold } from './text-field';
import { placesFor } from './use-other-texts';
import type { WrittenField } from './use-field-text';

/** The short texts of a picture besides its alt text, and where its long description stands. */
afterEach(cleanup);

const NOW = '2026-05-14T10:00:00Z';
const changed: string[] = [];
const chosen: string[] = [];
beforeEach(() => {
  changed.length = 0;
  chosen.length = 0;
});
const written = (text: string, other: string | null = null): WrittenField => ({
  ...({ saver: null, status: 'untouched' } as never as Pick<WrittenField, 'saver' | 'status'>),
  ...{ text, other },
  change: (next) => void changed.push(next),
  choose: (choice) => void chosen.push(choice),
});
const version = (text: string | null, more: Partial<TextVersion> = {}): TextVersion => ({
  ...{ id: 1, text, by: 'person', state: 'accepted', act: 'act-1', at: '2026-05-14T09:12:00Z' },
  ...more,
});
const show = (more: Partial<Parameters<typeof TextFieldFold>[0]> = {}) =>
  render(
    <TextFieldFold
      {...{ title: 'Caption', about: 'What everybody reads.', lang: 'en', now: NOW, warning: null }}
      field={fieldText('Tides')}
      written={written('Tides')}
      {...more}
    />,
  );

test('a field says what it is for, what it says, and how to keep what the page says', async () => {
  show({ written: written('High tides'), warning: 'It repeats the alt text' });
  const field = screen.getByRole('textbox', { name: 'Caption', hidden: true });
  expect(
    field
      .getAttribute('aria-describedby')!
      .split(' ')
      .map((id) => document.getElementById(id)!.textContent),
  ).toEqual(['What everybody reads.', 'It repeats the alt text']);
  await userEvent.click(screen.getByRole('button', { name: 'Keep “Tides”', hidden: true }));
  expect(changed).toEqual(['Tides']);
});

test('an emptied field says that the text will be removed', () => {
  show({ written: written('') });
  screen.getByText('will be removed');
});

test('what cannot be saved stays in the field with the reason, and is not sent', async () => {
  show({
    title: 'File name',
    field: fieldText('a.jpg'),
    written: written('a.jpg'),
    check: (t) => fileNameProblem(t, 'a.jpg'),
  });
  const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'File name', hidden: true });
  await userEvent.type(field, 'ä', { initialSelectionStart: 0, initialSelectionEnd: 5 });
  expect([changed, field.value, field.getAttribute('aria-invalid')]).toEqual([[], 'ä', 'true']);
  await userEvent.type(field, 'b.jpg', { initialSelectionStart: 0, initialSelectionEnd: 1 });
  expect(changed.at(-1)).toBe('b.jpg');
});

// RFC 3986, 2.3: unreserved characters need no encoding; an extension says what a file is (common practice).
test.each([
  ['two-boats.jpg', null],
  ['zwei Boote.jpg', 'characters'],
  ['möwe.jpg', 'characters'],
  ['../etc.jpg', 'characters'],
  ['.jpg', 'empty'],
  ['', 'empty'],
  ['boats.png', 'extension'],
  ['boats', 'extension'],
])('the file name %j: %j', (name, problem) => expect(fileNameProblem(name, 'IMG_1.JPG')).toBe(problem));

test('where the page does not allow it, there is no field, and the reason', () => {
  show({ field: { ...fieldText(''), refused: { id: 'refusal.no-figure' } }, written: written('') });
  expect(screen.queryByRole('textbox', { hidden: true })).toBeNull();
  screen.getByText(/The picture is not in a figure/);
});

test('every text of the history but the one that stands can be used again', async () => {
  const history = [
    version('Tides', { id: 3 }),
    version(null, { id: 2, by: 'page' }),
    version('Old tides', { id: 1, state: 'undone' }),
  ];
  show({ field: { ...fieldText('Tides'), history } });
  screen.getByText(/as the page says/);
  await userEvent.click(screen.getByRole('button', { name: /^Use again/, hidden: true }));
  expect(changed).toEqual(['Old tides']);
});

test('between two texts of two windows, the editor chooses', async () => {
  show({ written: written('Mine', 'Theirs') });
  const choice = screen.getByRole('region', { name: 'Two texts: caption', hidden: true });
  expect(choice.textContent).toContain('Theirs');
  await userEvent.click(screen.getByRole('button', { name: 'Use the saved text', hidden: true }));
  await userEvent.click(screen.getByRole('button', { name: 'Use the text in the field', hidden: true }));
  expect(chosen).toEqual(['theirs', 'ours']);
});

test('only what stands below the picture can be tied in two ways', async () => {
  const placed: Placement[] = [];
  const place = async (placement: Placement) => void placed.push(placement);
  const { rerender } = render(
    <PlacementChoice placement={{ stand: 'details', tie: 'aria-details' }} places={3} place={place} />,
  );
  screen.getByRole('group', { name: 'Where it will stand, in 3 places' });
  expect(screen.queryByRole('combobox')).toBeNull();
  await userEvent.click(screen.getByRole('radio', { name: /^On a page of its own/ }));
  rerender(<PlacementChoice placement={{ stand: 'below', tie: 'aria-details' }} places={1} place={place} />);
  await userEvent.selectOptions(screen.getByRole('combobox'), 'aria-describedby');
  expect(placed).toEqual([
    { stand: 'page', tie: 'aria-details' },
    { stand: 'below', tie: 'aria-describedby' },
  ]);
});

test('a caption goes to the chosen places that say the same now, and to no other', () => {
  const places = [
    place('<img src=a>', { id: 1, caption: fieldText('Tides') }),
    place('<img src=a>', { id: 2, caption: fieldText('Tides') }),
    place('<img src=a>', { id: 3, caption: fieldText('Another') }),
    place('<img src=a>', { id: 4, caption: { ...fieldText('Tides'), refused: { id: 'refusal.no-figure' } } }),
    place('<img src=a>', { id: 5, caption: fieldText('Tides') }),
  ];
  expect(placesFor('caption', places, new Set([1, 2, 3, 4]))).toEqual([1, 2]);
  expect(placesFor('caption', places, 'all')).toEqual([1, 2, 5]);
});

test('a credit is recorded, used again from its history, and its line is put below the picture', async () => {
  const credit = { credit: 'Ann Roe', licence: 'CC BY 4.0', source: '' };
  const recorded: unknown[] = [];
  const shown: boolean[] = [];
  render(
    <CreditFold
      {...{ credit, now: NOW, places: 2, line: { isShown: false, refused: null } }}
      history={[
        { id: 2, credit, isUndone: false, at: NOW },
        { id: 1, credit: { ...credit, credit: 'Bo Lind' }, isUndone: false, at: NOW },
      ]}
      record={async (next) => void recorded.push(next)}
      show={async (isShown) => void shown.push(isShown)}
    />,
  );
  const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Save credit', hidden: true });
  expect(button.disabled).toBe(true);
  await userEvent.type(screen.getByRole('textbox', { name: 'Taken from', hidden: true }), 'https://isle.example/');
  await userEvent.click(button);
  await userEvent.click(screen.getByRole('button', { name: /^Use again/, hidden: true }));
  await userEvent.click(
    screen.getByRole('checkbox', { name: 'Put this line below the picture in 2 places', hidden: true }),
  );
  expect(recorded).toEqual([
    { ...credit, source: 'https://isle.example/' },
    { ...credit, credit: 'Bo Lind' },
  ]);
  expect(shown).toEqual([true]);
});
