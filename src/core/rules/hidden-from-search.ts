import { z } from 'zod';
import type { Message } from '../model/message';
import { WEB } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { COMMON_PRACTICE, RFC_9309 } from './support/sources';

function reason({ page, picture }: RuleContext): Message | null {
  if (picture?.unread?.id.startsWith('skip.robots')) return { id: 'hidden-from-search.robots' };
  const said = page.directives.find((d) => /^(?:noimageindex|noindex|none)$/.test(d));
  if (said === 'noimageindex') return { id: 'hidden-from-search.noimageindex' };
  return said ? { id: 'hidden-from-search.noindex', values: { directive: said } } : null;
}

export default defineRule({
  id: 'hidden-from-search',
  title: 'Hidden from search',
  group: 'files',
  about:
    'Search engines cannot use the picture, because of robots.txt or because every page that shows it asks not to be indexed. If that is intended, switch this rule off.',
  scope: 'picture',
  gives: ['advice'],
  formats: WEB,
  sources: [RFC_9309, COMMON_PRACTICE],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry">' },
      { html: '<img src="wave.svg" alt="">', page: { directives: ['noindex'] } },
      { html: '<img src="a.jpg" alt="The ferry">', page: { directives: ['nofollow'] } },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="The ferry">',
        page: { directives: ['noimageindex'] },
        message: 'Hidden from search: its page asks search engines not to index pictures (noimageindex).',
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: { 'a.jpg': { unread: { id: 'skip.robots' } } },
        message: 'Hidden from search: robots.txt blocks it.',
      },
    ],
  },
  check(contexts) {
    const seen = contexts.filter((s) => s.appearance.state !== 'decorative' && !s.appearance.accessible.hidden);
    const reasons = seen.map(reason);
    const [message] = reasons;
    if (!message || reasons.includes(null)) return [];
    return [{ context: seen[0]!, finding: { outcome: 'advice' as const, message } }];
  },
});
