/** @jest-environment jsdom */
import { act, cleanup, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { jest } from '@jest/globals';
import type { StyleEffects } from '@/contract/house-style';
import type { RuleStyle } from '@/core/rules/audit';
import { fieldsOf } from '@/core/house-style/fields';
import { RULES } from '@/core/rules';
import { withoutNext } from '../testing/next';

/** The house style, drawn from what the rules say of their parameters: what is set, and what it would do. */
withoutNext();
const { StyleEditor } = await import('./style-editor');
const { ActsProvider } = await import('../frame/acts');

const rules = RULES.map((rule) => ({
  ...{ id: rule.id, title: rule.title, group: rule.group, gives: rule.gives },
  defaults: rule.parameters.parse({}) as Record<string, unknown>,
  fields: fieldsOf(rule),
}));
// jsdom has no such method (File API, 3.3.3).
File.prototype.text ??= async () => '{}';
let asked: RuleStyle[];
let saved: RuleStyle[];
let effects: StyleEffects;
let answer: { style: RuleStyle } | { error: string };

beforeEach(() => {
  jest.useFakeTimers();
  asked = [];
  saved = [];
  effects = { effects: [], counted: 10, of: 10 };
  answer = { error: 'The file is not JSON: x' };
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

const show = (kept: RuleStyle = {}) =>
  render(
    <ActsProvider collection="isle">
      <StyleEditor
        {...{ collection: 'isle', name: 'Isle', rules, kept, jobs: [] }}
        effectOf={async (_, style) => {
          asked.push(style);
          return effects;
        }}
        saveHouseStyle={async (_, style) => void saved.push(style)}
        readStyle={async () => answer}
      />
    </ActsProvider>,
  );
const user = () => userEvent.setup({ advanceTimers: (ms) => jest.advanceTimersByTime(ms) });
const later = () => act(async () => void (await jest.advanceTimersByTimeAsync(400)));
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);

test('every parameter of every rule has its field, with its default in it', () => {
  show();
  const fields = rules.flatMap((r) => r.fields);
  expect(fields.length).toBeGreaterThan(20);
  for (const { kind, label } of fields)
    if (kind === 'choice') screen.getByRole('combobox', { name: new RegExp(`^${label}`) });
    else screen.getAllByLabelText(label);
  expect(field('Characters over the limit').value).toBe('100');
  // In their own units: percent, KB.
  expect(field('Percent of all texts').value).toBe('30');
  expect(field('Kilobytes').value).toBe('100');
});

test('what a change does is asked once the hand rests, and shown at its rule with examples', async () => {
  effects.effects = [
    {
      ...{ rule: 'overlong', counts: 'texts' as const, before: 2, after: 5 },
      examples: [
        {
          text: 'A long text',
          lang: 'en',
          message: { id: 'overlong.over', values: { length: 90, over: 50, limit: 40 } },
        },
      ],
    },
  ];
  show();
  const typing = user();
  await typing.clear(field('Characters over the limit'));
  await typing.type(field('Characters over the limit'), '40');
  expect(asked.at(-1)).toBeUndefined();
  await later();
  expect(asked.at(-1)).toEqual({ overlong: { parameters: { limit: 40 } } });
  screen.getByText('3 more texts.');
  screen.getByText(/90 characters, 50 over/);
  await typing.click(screen.getByRole('button', { name: 'Save house style' }));
  expect(saved).toEqual([{ overlong: { parameters: { limit: 40 } } }]);
});

test('percent and KB are stored as the rule counts them; what is out of bounds is not taken', async () => {
  show();
  const typing = user();
  const set = async (label: string, value: string) => {
    await typing.clear(field(label));
    await typing.type(field(label), value);
    await later();
  };
  await set('Percent of all texts', '45');
  await set('Kilobytes', '250');
  expect(asked.at(-1)).toEqual({
    boilerplate: { parameters: { share: 0.45 } },
    'heavy-file': { parameters: { limit: 256_000 } },
  });
  await set('Characters over the limit', '5');
  expect(asked.at(-1)!['overlong']).toBeUndefined();
});

test('lists are one a line, pairs as well, and blank lines are left out', async () => {
  show();
  const typing = user();
  await typing.click(screen.getByLabelText('Banned phrases'));
  await typing.paste('click here\n\n  welcome to ');
  await typing.click(screen.getByLabelText('Preferred spellings'));
  await typing.paste('web site = website\nno pair');
  await later();
  expect(asked.at(-1)!['house-style']!.parameters).toEqual({
    banned: ['click here', 'welcome to'],
    preferred: [{ instead: 'web site', use: 'website' }],
  });
});

test('what concerns documents stands in a section of its own: front matter keys, the metadata of books', async () => {
  show();
  const typing = user();
  const section = screen.getByRole('heading', { name: 'Documents' }).closest('section')!;
  const keys = within(section).getByLabelText<HTMLTextAreaElement>('Images in the front matter of Markdown');
  expect(keys.value.split('\n')[0]).toBe('image = imageAlt');
  await typing.clear(keys);
  await typing.paste('hero.src = hero.alt');
  await typing.type(within(section).getByLabelText('Accessibility summary of books'), 'All described.');
  await later();
  expect(asked.at(-1)!['house-style']!.parameters).toEqual({
    frontMatter: [{ picture: 'hero.src', words: 'hero.alt' }],
    bookSummary: 'All described.',
  });
});

test('a change can be discarded', async () => {
  show({ overlong: { parameters: { limit: 80 } } });
  expect(field('Characters over the limit').value).toBe('80');
  const typing = user();
  await typing.clear(field('Characters over the limit'));
  await typing.type(field('Characters over the limit'), '60');
  await later();
  await typing.click(screen.getByRole('button', { name: 'Discard changes' }));
  expect(field('Characters over the limit').value).toBe('80');
  expect(screen.queryByRole('button', { name: 'Save house style' })).toBeNull();
});

test('a file is read into the page, not saved; one that is none says why', async () => {
  show();
  const typing = user();
  const upload = () =>
    typing.upload(screen.getByLabelText('Upload a file'), new File(['{}'], 'style.json', { type: 'application/json' }));
  await upload();
  await later();
  expect(within(screen.getByRole('alert')).getByText('The file is not JSON: x')).toBeTruthy();
  answer = { style: { echo: { off: true } } };
  await upload();
  await later();
  await later();
  expect(screen.queryByRole('alert')).toBeNull();
  expect(asked.at(-1)).toEqual({ echo: { off: true } });
  expect(saved).toEqual([]);
});
