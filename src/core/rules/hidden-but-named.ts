import { z } from 'zod';
import type { Message } from '../model/message';
import { isDocumentObject, type Appearance } from '../model/appearance';
import { hasMathMl } from '../purpose/formula';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import { ACT_PRESENTATIONAL, ARIA_CONFLICT, H67, WCAG2ICT } from './support/sources';
import { clipped } from './support/words';
import { isBlank } from '../white-space';

/** How a picture is silenced and given words all the same; null where it is not. */
function contradiction(a: Appearance): Message | null {
  const label = isBlank(a.markup.ariaLabel) ? null : a.markup.ariaLabel;
  const alt = isBlank(a.markup.alt) ? null : a.markup.alt;
  const words = label ?? alt;
  // A picture for browsers that show no MathML is hidden behind it on purpose.
  if (a.markup.ariaHidden && hasMathMl(a)) return null;
  if (a.markup.ariaHidden && words) return { id: 'hidden-but-named.aria-hidden', values: { text: clipped(words) } };
  if (a.accessible.hidden) return null;
  if (isDocumentObject(a))
    return a.state === 'decorative' && alt ? { id: 'hidden-but-named.role', values: { text: clipped(alt) } } : null;
  if (a.markup.ownRole === 'none' && a.markup.focusable) return { id: 'hidden-but-named.focusable' };
  if (a.markup.ownRole === 'none' && words) return { id: 'hidden-but-named.role', values: { text: clipped(words) } };
  const other = label ?? (isBlank(a.markup.title) ? null : a.markup.title);
  if (a.markup.alt === '' && other && a.element === 'img')
    return {
      id: 'hidden-but-named.empty-alt',
      values: { attribute: label ? 'aria-label' : 'title', text: clipped(other) },
    };
  return null;
}

export default defineRule({
  id: 'hidden-but-named',
  title: 'Hidden, but has alt text',
  group: 'presence',
  about:
    'The markup contradicts itself: it says that the picture is decorative or hidden, and also gives it a text. Browsers and screen readers settle this in different ways. Describe the picture or hide it, not both.',
  scope: 'appearance',
  gives: ['cantTell'],
  formats: EVERY_FORMAT,
  documentSources: [WCAG2ICT],
  sources: [ARIA_CONFLICT, ACT_PRESENTATIONAL, H67],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="wave.svg" alt="" role="presentation">' },
      { html: 'picture, decorative, title “Wave”', objects: [{ isDecorative: true, title: 'Wave' }] },
      { html: '<img src="wave.svg" alt="" aria-hidden="true">' },
      { html: '<p><math><mi>r</mi></math><img src="r.png" alt="{\\displaystyle r}" aria-hidden="true"></p>' },
      { html: '<div aria-hidden="true"><img src="a.jpg" alt="The ferry"></div>' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" role="presentation" alt="The ferry">',
        message: 'It is marked as decorative, but has the text “The ferry”: describe it or hide it, not both.',
      },
      {
        html: 'picture, decorative, alt text “The ferry”',
        objects: [{ isDecorative: true, alt: 'The ferry' }],
        message: 'It is marked as decorative, but has the text “The ferry”: describe it or hide it, not both.',
      },
      {
        html: '<img src="a.jpg" aria-hidden="true" alt="The ferry">',
        message: 'It is hidden by aria-hidden, but has the text “The ferry”: describe it or hide it, not both.',
      },
      {
        html: '<img src="a.jpg" alt="" title="The ferry">',
        message: 'Its alt is empty, but its title is “The ferry”: describe it or hide it, not both.',
      },
      {
        html: '<img src="a.jpg" alt="" role="none" tabindex="0">',
        message: 'It is marked as decorative, but can be focused, so browsers ignore the role and announce it.',
      },
    ],
  },
  check({ appearance: a }) {
    const message = contradiction(a);
    if (!message) return null;
    const words = [a.markup.ariaLabel, a.markup.alt, a.markup.title].find((t) => !isBlank(t));
    return {
      outcome: 'cantTell',
      message,
      // Words cannot bring back what aria-hidden or a role takes away.
      fixes: [
        ...(words && !a.markup.ariaHidden && a.markup.ownRole !== 'none'
          ? [{ kind: 'use words' as const, text: words }]
          : []),
        ...(a.context.control?.text === '' ? [] : [{ kind: 'mark decorative' as const }]),
      ],
    };
  },
});
