import { z } from 'zod';
import type { AppearanceElement } from '../model/appearance';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { F65, HTML_ALT, SC_1_1_1, WCAG2ICT } from './support/sources';
import { isBlank } from '../white-space';

/** Objects of documents that show something; those of groups are judged with their group. */
const SHOWS: readonly AppearanceElement[] = ['picture', 'media', 'embedded', 'figure', 'formula'];

export default defineRule({
  id: 'no-alt',
  title: 'Missing alt text',
  group: 'presence',
  about:
    'The picture has no alt attribute and no other accessible name. Screen readers announce the file name, the address, or nothing at all, and nobody who cannot see the picture learns whether it mattered.',
  scope: 'appearance',
  gives: ['failed'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  subsumes: ['unnamed-control', 'needs-long-description'],
  sources: [SC_1_1_1, F65, HTML_ALT],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="boat.jpg" alt="The ferry at the quay">' },
      { html: '<img src="wave.svg" alt="">' },
      { html: '<img src="boat.jpg" aria-label="The ferry at the quay">' },
      { html: '<img src="boat.jpg" role="presentation">' },
      { html: 'picture, decorative', objects: [{ isDecorative: true }] },
      { html: 'picture, alt text “The ferry at the quay”', objects: [{ alt: 'The ferry at the quay' }] },
      { html: '<div hidden><img src="boat.jpg"></div>' },
    ],
    fails: [
      {
        html: '<img src="boat.jpg">',
        message: 'There is no alt attribute: a listener hears the file name, or nothing.',
      },
      {
        html: '<figure><img src="boat.jpg"><figcaption>The ferry</figcaption></figure>',
        message:
          'There is no alt attribute: a listener hears the file name, or nothing. The caption does not stand in for it.',
      },
      {
        html: 'picture, no alt text',
        objects: [{ element: 'picture' }],
        message: 'There is no alt text: a listener hears that there is a picture, and not what it shows.',
      },
      {
        html: 'Figure without Alt, caption “The quay in 1953”',
        format: 'pdf',
        objects: [{ element: 'figure', caption: 'The quay in 1953' }],
        message:
          'There is no alt text: a listener hears that there is a picture, and not what it shows. The caption does not stand in for it.',
      },
    ],
  },
  check({ appearance: a, page }) {
    const isObject =
      SHOWS.includes(a.element) && !a.context.partOf && !(page.format === 'pdf' && a.element === 'picture');
    if (
      !(a.element === 'img' || isObject) ||
      a.markup.alt !== null ||
      a.accessible.hidden ||
      a.accessible.ignored ||
      !isBlank(a.accessible.name)
    )
      return null;
    return {
      outcome: 'failed',
      message: { id: `no-alt.${isObject ? 'object' : 'missing'}${a.context.caption ? '-caption' : ''}` },
    };
  },
});
