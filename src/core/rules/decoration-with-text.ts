import { z } from 'zod';
import type { Message } from '../model/message';
import { isSurely } from '../model/picture-analysis';
import { echoOf } from './support/echoes';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type Fix } from '../model/finding';
import { F39, TUTORIAL_DECORATIVE, WCAG2ICT } from './support/sources';
import { bare } from '../words/said';
import { clipped, heardWords, languageOf, languageWords, trimmedSpan } from './support/words';
import { normalise, wordsOf } from '../words/graphemes';

/** Pixels of a side up to which there is nothing to see. */
const NOTHING = 3;

/** Words up to which a pattern is merely called something; whoever wrote more had something to say. */
const NAMED = 3;
/** Pixels of a side below which a regular picture is a button or an icon more often than a pattern. */
const TILE = 48;
/** Ratio of its sides from which a picture is a strip. */
const STRIP = 3;

/** What of the picture itself speaks for decoration; null for nothing. */
function decorationShown(context: RuleContext, words: string): Message | null {
  const { picture, appearance: a } = context;
  const { width, height, analysis: seen } = picture ?? {};
  if (width && height && Math.min(width, height) <= NOTHING)
    return { id: 'decoration-with-text.pixels', values: { width, height } };
  if (seen?.text) return null;
  if (isSurely(seen, 'separator')) return { id: 'decoration-with-text.separator' };
  // A strip shows what a line or a scale looks like as often as it decorates.
  const isStrip = !!width && !!height && Math.max(width, height) > STRIP * Math.min(width, height);
  const named = wordsOf(words).length <= NAMED;
  // What is called a button or an icon is one, however regular it looks.
  const isPart = languageWords(context).some((l) => wordsOf(words).some((w) => l.screens.has(w)));
  const isTile = !!width && !!height && Math.min(width, height) >= TILE;
  if (isSurely(seen, 'pattern') && !isStrip && named && !isPart && isTile)
    return { id: 'decoration-with-text.pattern' };
  const beside = isSurely(seen, 'icon') ? echoOf(a, words, languageOf(context)) : null;
  return beside && { id: 'decoration-with-text.icon', values: { neighbour: beside } };
}

export default defineRule({
  id: 'decoration-with-text',
  title: 'Decorative image with alt text',
  group: 'purpose',
  about:
    'The alt text says that the picture carries no information: “spacer”, “divider”, “decorative image”. Decorative images should have an empty alt, so that they are not announced at all. A description that merely contains such a word is fine. Detto also asks for a check where the picture itself looks decorative, such as a single pixel, a line or a pattern.',
  scope: 'appearance',
  sees: true,
  gives: ['failed', 'cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: ['echo', 'too-brief', 'same-words', 'overlong'],
  sources: [F39, TUTORIAL_DECORATIVE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: '<img src="sine.jpg" alt="The same photo after the sine filter">',
        pictures: { 'sine.jpg': { analysis: { kind: 'pattern', sure: 0.9, text: '' } } },
      },
      {
        html: '<img src="bar.png" alt="Hollow bar with ticks">',
        pictures: { 'bar.png': { width: 110, height: 24, analysis: { kind: 'pattern', sure: 0.9, text: '' } } },
      },
      { html: '<img src="a.jpg" alt="Decorative plasterwork on the ceiling">' },
      { html: '<img src="a.jpg" alt="">' },
      { html: '<img src="a.jpg" alt="A border collie at the ticket office">' },
    ],
    fails: [
      {
        html: '<p><img src="a.png" alt="Fares"> Fares</p>',
        pictures: { 'a.png': { analysis: { kind: 'icon', sure: 0.9 } } },
        message: '“Fares” is the alt text of what looks like an icon, and the text just after says the same.',
      },
      {
        html: '<img src="dot.gif" alt="Welcome to our island">',
        pictures: { 'dot.gif': { width: 1, height: 1 } },
        message: '“Welcome to our island” is the alt text of a picture of 1 × 1 pixels.',
      },
      {
        html: '<img src="w.png" alt="Waves">',
        pictures: { 'w.png': { analysis: { kind: 'separator', sure: 0.9, text: '' } } },
        message: '“Waves” is the alt text of what looks like a separator.',
      },
      {
        html: '<img src="w.png" alt="Waves">',
        pictures: { 'w.png': { analysis: { kind: 'pattern', sure: 0.9, text: '' } } },
        message: '“Waves” is the alt text of what looks like a pattern.',
      },
      {
        html: '<img src="wave-3.svg" alt="divider">',
        message: '“divider” announces a decorative image: it should not be announced at all.',
      },
      {
        html: '<img src="a.gif" alt="Spacer image">',
        message: '“Spacer image” announces a decorative image: it should not be announced at all.',
      },
      {
        html: '<img src="a.jpg" alt="(purely decorative)">',
        message: '“(purely decorative)” announces a decorative image: it should not be announced at all.',
      },
      {
        html: '<img src="a.jpg" alt="Trennlinie">',
        lang: 'de',
        message: '“Trennlinie” announces a decorative image: it should not be announced at all.',
      },
      {
        html: '<img src="a.jpg" alt="Image décorative">',
        lang: 'fr',
        message: '“Image décorative” announces a decorative image: it should not be announced at all.',
      },
    ],
  },
  check(context) {
    const words = heardWords(context.appearance);
    if (words === null) return null;
    const text = bare(words);
    const fixes: Fix[] = context.appearance.context.control?.text === '' ? [] : [{ kind: 'mark decorative' }];
    const says = languageWords(context).some((l) => l.decoration.some((d) => d.test(text)));
    if (!says) {
      const shows =
        context.appearance.context.control?.text === '' || context.purposeSettled
          ? null
          : decorationShown(context, words);
      if (shows === null) return null;
      const message = { id: 'decoration-with-text.shown', values: { text: clipped(normalise(words)), shows } };
      return { outcome: 'cantTell', message, span: trimmedSpan(words), fixes };
    }
    return {
      outcome: 'failed',
      message: { id: 'decoration-with-text.announced', values: { text: clipped(normalise(words)) } },
      span: trimmedSpan(words),
      fixes,
    };
  },
});
