import { z } from 'zod';
import { normalise } from '../words/graphemes';

const MOST = 20_000;

/** What a service answers about one picture. */
export const DraftAnswer = z.object({
  alt: z.string().max(MOST).default(''),
  decorative: z.boolean().default(false),
  purpose: z.string().max(200).optional().catch(undefined),
  title: z.string().max(MOST).optional().catch(undefined),
  caption: z.string().max(MOST).optional().catch(undefined),
  longDescription: z.string().max(MOST).optional().catch(undefined),
  fileName: z.string().max(300).optional().catch(undefined),
  textInPicture: z.string().max(MOST).optional().catch(undefined),
  uncertain: z.array(z.string().max(1_000)).max(50).default([]).catch([]),
});
export type DraftAnswer = z.infer<typeof DraftAnswer>;

export type ReadAnswer = { answer: DraftAnswer } | { fault: string };

/**
 * Reads what a model wrote: a JSON object, alone, in a code fence, or within other words.
 *
 * @returns the answer, or what is wrong with it, in words for the model
 */
export function readAnswer(text: string): ReadAnswer {
  const start = text.indexOf('{');
  const end = text.lastIndexOf('}');
  if (start < 0 || end < start) return { fault: 'there is no JSON object in it' };
  let parsed: unknown;
  try {
    parsed = JSON.parse(text.slice(start, end + 1));
  } catch {
    return { fault: 'the JSON is not valid' };
  }
  const answer = DraftAnswer.safeParse(parsed);
  if (!answer.success) {
    const issue = answer.error.issues[0]!;
    return { fault: `“${issue.path.join('.')}”: ${issue.message}` };
  }
  const alt = normalise(answer.data.alt);
  if (alt === '' && !answer.data.decorative) return { fault: '“alt” is empty and “decorative” is not true' };
  return {
    answer: { ...answer.data, alt, uncertain: answer.data.uncertain.filter((u) => u !== '' && alt.includes(u)) },
  };
}
