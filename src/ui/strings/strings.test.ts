import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { IntlMessageFormat } from 'intl-messageformat';
import type { Message } from '@/core/model/message';
import { MESSAGES, strings as english } from './en';
import { pseudo } from './pseudo';
import { messageRenderer } from './render';

const templates: Readonly<Record<string, string>> = MESSAGES;

describe('messages', () => {
  const render = messageRenderer(
    {
      books: '{n, plural, one {# book} other {# books}} by {author}',
      shelf: 'On the shelf: {things}.',
      share: '{share, number, ::percent}',
    },
    'en-GB',
  );

  test.each<[string, Message]>([
    ['1 book by Ann', { id: 'books', values: { n: 1, author: 'Ann' } }],
    ['1,200 books by {n} <b>', { id: 'books', values: { n: 1200, author: '{n} <b>' } }],
    // UTS 35, part 2: the short style of a list of units.
    [
      'On the shelf: a, 2, 3 books by Ann.',
      { id: 'shelf', values: { things: ['a', 2, { id: 'books', values: { n: 3, author: 'Ann' } }] } },
    ],
    ['On the shelf: German.', { id: 'shelf', values: { things: { id: 'language', values: { tag: 'de' } } } }],
    ['45%', { id: 'share', values: { share: 0.449 } }],
    ['no.such.message', { id: 'no.such.message' }],
    // Stored by another version, without a value that is needed now.
    ['books', { id: 'books', values: { n: 2 } }],
  ])('%s', (words, message) => expect(render(message)).toBe(words));

  test.each(Object.entries(templates))('%s is a message format', (id, template) => {
    expect(id).toMatch(/^[a-z][\w-]*(?:\.[\w-]+)*$/i);
    expect(() => new IntlMessageFormat(template, 'en-GB', undefined, { ignoreTag: true })).not.toThrow();
  });

  test('each that the code says has its words, and each with words is said', () => {
    const code = ['src/core', 'src/server', 'src/workers', 'src/app']
      .flatMap((root) => (readdirSync(root, { recursive: true }) as string[]).map((file) => path.join(root, file)))
      .filter((file) => /\.tsx?$/.test(file) && !file.endsWith('.test.ts'))
      .map((file) => readFileSync(file, 'utf8'))
      .join('\n');
    const rooms = new Set(Object.keys(templates).map((id) => id.split('.')[0]!));
    const said = [...code.matchAll(/'([a-z][\w-]*)\.([\w-]+)'/gi)]
      .filter(([, room]) => rooms.has(room!))
      .map(([, room, name]) => `${room}.${name}`);
    expect(said.filter((id) => !(id in templates))).toEqual([]);
    // Put together from what is measured or recognised.
    const composed =
      /^(?:colour|thing|kind|kind-reason|stuffed|unnamed-control|no-alt|object-unnamed|spot)\.|^refusal\.(?:poster|css-background|source)$|^evidence\.(?:chart|diagram)$/;
    const unsaid = Object.keys(templates).filter((id) => !composed.test(id) && !code.includes(`'${id}'`));
    expect(unsaid).toEqual([]);
  });
});

describe('the pseudo-locale', () => {
  const marked = pseudo(english);
  test('marks what is a string’s own, and nothing that it is given', () => {
    expect(marked.product).toBe('Ḓḗŧŧǿ');
    expect(marked.log.foundOn('https://isle.example/')).toMatch(/^[^a-z]+https:\/\/isle\.example\/$/);
    expect(marked.message({ id: 'skip.other-host', values: { host: 'isle.example' } })).toMatch(
      /^[^a-z]+isle\.example$/,
    );
    expect(
      marked.message({ id: 'echo.repeats', values: { text: 'Fares', neighbour: { id: 'neighbour.title' } } }),
    ).toMatch(/^“Fares” [^a-z]+$/);
  });
});
