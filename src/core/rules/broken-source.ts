import { z } from 'zod';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { HTML_IMG } from './support/sources';

export default defineRule({
  id: 'broken-source',
  title: 'Broken image',
  group: 'files',
  about:
    'The picture cannot be shown: there is no address, nothing at the address, or something that is not a picture. Nobody sees it, and its alt text describes nothing.',
  scope: 'appearance',
  gives: ['failed'],
  formats: MARKUP,
  sources: [HTML_IMG],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry">' },
      { html: '<img srcset="a.jpg 1x, b.jpg 2x" alt="The ferry">' },
      { html: '<img data-src="a.jpg" alt="The ferry">' },
    ],
    fails: [
      { html: '<img src="" alt="The ferry">', message: 'It has no address, so nothing is shown.' },
      {
        html: '<img src="gone.jpg" alt="The ferry">',
        pictures: { 'gone.jpg': { broken: { id: 'skip.not-found', values: { status: 404 } } } },
        message: 'The picture at gone.jpg cannot be shown: not found (404).',
      },
    ],
  },
  check({ appearance: a, picture }) {
    if (a.markup.src === null || a.markup.templated) return null;
    if (a.markup.src.trim() === '' && a.markup.candidates.length === 0)
      return { outcome: 'failed', message: { id: 'broken-source.no-address' } };
    if (!picture?.broken) return null;
    return {
      outcome: 'failed',
      message: {
        id: 'broken-source.broken',
        values: { src: a.markup.src || a.markup.candidates[0]!.src, reason: picture.broken },
      },
    };
  },
});
