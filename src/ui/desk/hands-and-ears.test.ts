/** @jest-environment jsdom */
import { readSource } from '@/core/formats/html/read-page';
import { takeArrival, arriveTo, takeTyped, typeAhead } from './arrival';
import { writeInto } from './field';
import { canSpeak, heardAs, speak } from './speech';

/** What the Desk does with hands and ears: words put into the field, speech, and what is typed ahead. */
const reading = (html: string) => readSource(`<html lang="en">${html}`).appearances[0]!;

test('words are put into the field as if they were typed over what stands there', () => {
  const field = document.body.appendChild(document.createElement('textarea'));
  field.value = 'Old';
  const commands: unknown[][] = [];
  document.execCommand = ((...all: unknown[]) => commands.push(all) > 0) as never;
  writeInto(field, 'New');
  expect([document.activeElement, field.selectionStart, field.selectionEnd]).toEqual([field, 0, 3]);
  writeInto(field, '');
  writeInto(field, 'Old');
  expect(commands).toEqual([
    ['insertText', false, 'New'],
    ['delete', false, ''],
  ]);
});

test('a picture is heard as what it is: image, link, button, or nothing', () => {
  expect(heardAs(reading('<img src=a alt="Boat">'), 'A boat')).toBe('image, A boat');
  expect(heardAs(reading('<a href=b><img src=a></a>'), 'To the fares')).toBe('link, image, To the fares');
  expect(heardAs(reading('<button><img src=a></button>'), '')).toBe('button, no action given');
  expect(heardAs(null, '')).toBe('image, nothing');
});

test('it is spoken in its language, in place of what is being spoken, where the browser can', () => {
  expect([canSpeak(), speak('x', 'en')]).toEqual([false, false]);
  const spoken: string[] = [];
  Object.assign(window, {
    SpeechSynthesisUtterance: class {
      lang = '';
      constructor(readonly text: string) {}
    },
    speechSynthesis: {
      cancel: () => spoken.push('cancel'),
      speak: (u: { lang: string; text: string }) => spoken.push(`${u.lang} ${u.text}`),
    },
  });
  expect([speak('Ein Boot', 'de'), speak('Boat', null)]).toEqual([true, true]);
  expect(spoken).toEqual(['cancel', 'de Ein Boot', 'cancel', ' Boat']);
});

test('what is typed ahead, and how the next picture is come to, is taken once', () => {
  typeAhead('A');
  typeAhead('b');
  expect([takeTyped(), takeTyped()]).toEqual(['Ab', '']);
  arriveTo('look');
  expect([takeArrival(), takeArrival()]).toEqual(['look', 'write']);
});
