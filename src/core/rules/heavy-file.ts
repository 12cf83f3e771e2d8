import { z } from 'zod';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';
import { kilobytes } from './support/words';

export default defineRule({
  id: 'heavy-file',
  title: 'Heavy file',
  group: 'files',
  about:
    'A picture that weighs more than it needs to makes every reader wait, most of all those on slow lines. Detto tells what a re-encoded copy weighs; it really encodes one.',
  scope: 'picture',
  gives: ['advice'],
  sources: [COMMON_PRACTICE],
  parameters: z.object({
    /** Bytes over which a file is heavy; 100 KB of 1,024 bytes. */
    limit: z.int().min(1024).default(102_400),
  }),
  examples: {
    passes: [
      { html: '<img src="a.jpg" alt="The ferry">', pictures: { 'a.jpg': { bytes: 102_400 } } },
      { html: '<img src="a.jpg" alt="The ferry">' },
    ],
    fails: [
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: { 'a.jpg': { bytes: 188_416, smallerCopyBytes: 41_984 } },
        message: '184 KB; re-encoded 41 KB.',
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: { 'a.jpg': { bytes: 204_800, smallerCopyBytes: 204_000 } },
        message: '200 KB, 100 KB over the limit; re-encoding does not make it lighter.',
      },
    ],
  },
  check(contexts, { limit }) {
    const context = contexts[0]!;
    const bytes = context.picture?.bytes ?? 0;
    if (bytes <= limit) return [];
    const lighter = context.picture?.smallerCopyBytes ?? null;
    const over = `${kilobytes(bytes)}, ${kilobytes(bytes - limit)} over the limit`;
    const message =
      lighter === null
        ? `${over}.`
        : lighter < bytes * 0.8
          ? `${kilobytes(bytes)}; re-encoded ${kilobytes(lighter)}.`
          : `${over}; re-encoding does not make it lighter.`;
    return [{ context, finding: { outcome: 'advice', message } }];
  },
});
