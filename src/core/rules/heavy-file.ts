import { z } from 'zod';
import { weightOf } from '../model/message';
import { FETCHED } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';

export default defineRule({
  id: 'heavy-file',
  title: 'Heavy file',
  group: 'files',
  about:
    'A picture that weighs more than it needs to makes every reader wait, above all on slow connections. Detto encodes a copy and tells you what it weighs.',
  scope: 'picture',
  gives: ['advice'],
  formats: FETCHED,
  sources: [COMMON_PRACTICE],
  parameters: z.object({
    /** Bytes over which a file is heavy; 100 KB of 1,024 bytes. */
    limit: z
      .int()
      .min(1024)
      .max(104_857_600)
      .default(102_400)
      .meta({ label: 'Kilobytes', lead: 'A file is heavy over', unit: 'KB.', scale: 1024 }),
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
        message: '184 KB; would be 41 KB re-encoded.',
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
    const id =
      lighter === null ? 'heavy-file.over' : lighter < bytes * 0.8 ? 'heavy-file.lighter' : 'heavy-file.no-lighter';
    const values = {
      weight: weightOf(bytes),
      over: weightOf(bytes - limit),
      ...(lighter === null ? {} : { lighter: weightOf(lighter) }),
    };
    return [{ context, finding: { outcome: 'advice', message: { id, values } } }];
  },
});
