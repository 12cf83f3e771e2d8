import { z } from 'zod';
import { isBlank } from '../formats/html/tree';
import type { Appearance } from '../model/appearance';
import { defineRule } from './support/rule';
import { ACT_PRESENTATIONAL, ARIA_CONFLICT, H67 } from './support/sources';
import { quoted } from './support/words';

/** How a picture is silenced and given words all the same; null where it is not. */
function contradiction(a: Appearance): string | null {
  const label = isBlank(a.markup.ariaLabel) ? null : a.markup.ariaLabel;
  const alt = isBlank(a.markup.alt) ? null : a.markup.alt;
  const words = label ?? alt;
  if (a.markup.ariaHidden && words) return `It is hidden by aria-hidden, yet says ${quoted(words)}`;
  if (a.accessible.hidden) return null;
  if (a.markup.ownRole === 'none' && a.markup.focusable)
    return 'It is marked as decoration, yet can be focused: the role is ignored and it is announced';
  if (a.markup.ownRole === 'none' && words) return `It is marked as decoration, yet says ${quoted(words)}`;
  const other = label ?? (isBlank(a.markup.title) ? null : a.markup.title);
  if (a.markup.alt === '' && other && a.element === 'img')
    return `Its alt is empty, yet ${label ? 'aria-label' : 'title'} says ${quoted(other)}`;
  return null;
}

export default defineRule({
  id: 'hidden-but-named',
  title: 'Silenced, and given words',
  group: 'presence',
  about:
    'The markup says two things at once: that the picture is decoration, and what it shows. Browsers settle the conflict in one way or the other, and screen readers differ. Say it, or silence it.',
  scope: 'appearance',
  gives: ['cantTell'],
  sources: [ARIA_CONFLICT, ACT_PRESENTATIONAL, H67],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="wave.svg" alt="" role="presentation">' },
      { html: '<img src="wave.svg" alt="" aria-hidden="true">' },
      { html: '<div aria-hidden="true"><img src="a.jpg" alt="The ferry"></div>' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" role="presentation" alt="The ferry">',
        message: 'It is marked as decoration, yet says “The ferry”: say it, or silence it.',
      },
      {
        html: '<img src="a.jpg" aria-hidden="true" alt="The ferry">',
        message: 'It is hidden by aria-hidden, yet says “The ferry”: say it, or silence it.',
      },
      {
        html: '<img src="a.jpg" alt="" title="The ferry">',
        message: 'Its alt is empty, yet title says “The ferry”: say it, or silence it.',
      },
      {
        html: '<img src="a.jpg" alt="" role="none" tabindex="0">',
        message:
          'It is marked as decoration, yet can be focused: the role is ignored and it is announced: say it, or silence it.',
      },
    ],
  },
  check({ appearance: a }) {
    const what = contradiction(a);
    if (!what) return null;
    const words = [a.markup.ariaLabel, a.markup.alt, a.markup.title].find((t) => !isBlank(t));
    return {
      outcome: 'cantTell',
      message: `${what}: say it, or silence it.`,
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
