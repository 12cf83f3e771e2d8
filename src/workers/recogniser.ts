/**
 * A process of its own that reads pictures: their text, and what things are in them. It keeps its models open, takes one
 * task at a time, and may be killed at any moment.
 */
import { textIn } from '@/server/analysis/text-reader';
import { thingsIn } from '@/server/analysis/detectors';
import type { Answer, RecognitionTask } from '@/server/workers/tasks';
import type { Recognition } from '@/core/picture/recognised';

async function recognise({ bytes, languages, photo, things }: RecognitionTask): Promise<Recognition> {
  const lines = await textIn(bytes, languages, photo);
  const found = things ? await thingsIn(bytes) : { things: [], faces: null };
  return { languages, lines, ...found };
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;

process.on('message', (task: RecognitionTask) => {
  recognise(task).then(
    (result) => process.send!({ result } satisfies Answer<Recognition>),
    (error: unknown) => process.send!({ error: firstLine(error) } satisfies Answer<Recognition>),
  );
});
process.on('disconnect', () => process.exit(0));
