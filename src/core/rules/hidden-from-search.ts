import { z } from 'zod';
import { defineRule, type RuleContext } from './support/rule';
import { COMMON_PRACTICE, RFC_9309 } from './support/sources';

function reason({ page, picture }: RuleContext): string | null {
  if (/robots\.txt/i.test(picture?.unread ?? '')) return 'robots.txt keeps it from search engines';
  const said = page.directives.find((d) => /^(?:noimageindex|noindex|none)$/.test(d));
  if (said === 'noimageindex') return 'its page asks search engines to leave out the pictures (noimageindex)';
  return said ? `its page asks search engines to leave it out (${said})` : null;
}

export default defineRule({
  id: 'hidden-from-search',
  title: 'Hidden from search',
  group: 'files',
  about:
    'Search engines are kept from the picture: by robots.txt, or because every page that shows it asks to be left out. That may be as it should be; then switch this off.',
  scope: 'picture',
  gives: ['advice'],
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
        message: 'Hidden from search: its page asks search engines to leave out the pictures (noimageindex).',
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: { 'a.jpg': { unread: 'robots.txt asks to leave it' } },
        message: 'Hidden from search: robots.txt keeps it from search engines.',
      },
    ],
  },
  check(contexts) {
    const seen = contexts.filter((s) => s.appearance.state !== 'decorative' && !s.appearance.accessible.hidden);
    const reasons = seen.map(reason);
    if (seen.length === 0 || reasons.includes(null)) return [];
    return [
      { context: seen[0]!, finding: { outcome: 'advice' as const, message: `Hidden from search: ${reasons[0]}.` } },
    ];
  },
});
