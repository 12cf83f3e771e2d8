/**
 * Reads and writes documents that are no web pages: as a thread, and as a process of its own for PDF. What it reads is
 * hostile, so it may be ended at any moment. It takes one task at a time and answers it.
 */
import { parentPort } from 'node:worker_threads';
import { DocumentError } from '@/core/formats/document-error';
import { unifiedDiff } from '@/core/formats/unified-diff';
import { writeProved } from '@/core/formats/write-proved';
import type { DocumentFormat, FormatId } from '@/core/model/document';
import { UserError } from '@/core/model/user-error';
import type { Answer, DocumentResult, DocumentTask } from '@/server/workers/tasks';
import { sayBegun } from './begun';
import { collect } from './collect';

/** A format by its id. Web pages wait for nothing that only other documents need, which takes half a second to open. */
const formatOf = async (id: FormatId): Promise<DocumentFormat> =>
  id === 'html' ? (await import('@/core/formats/html')).html : (await import('@/core/formats')).formatById(id);

async function perform({ format: id, bytes, name, ...task }: DocumentTask): Promise<DocumentResult> {
  if (task.kind === 'diff') return unifiedDiff(bytes, task.after, name, task.isNew);
  const format = await formatOf(id);
  if (task.kind === 'document') return format.read(bytes, { name, ...task.context });
  if (task.kind === 'write') return writeProved(format, bytes, task.edits, { name, ...task.context });
  if (!format.picture) throw new DocumentError({ id: 'document.no-part', values: { part: task.picture } });
  // A copy, since what it stands in is shared, or much larger.
  return new Uint8Array(await format.picture(bytes, task.picture));
}

/** A file that was made here is handed over; what is shared, or a part of something larger, is copied. */
function ownBuffer(answer: Answer<DocumentResult>): ArrayBuffer[] {
  if (!('result' in answer) || !('bytes' in answer.result)) return [];
  const { buffer, byteLength } = answer.result.bytes;
  return buffer instanceof ArrayBuffer && buffer.byteLength === byteLength ? [buffer] : [];
}

const send = (answer: Answer<DocumentResult>) =>
  parentPort ? parentPort.postMessage(answer, ownBuffer(answer)) : process.send!(answer);

function take(task: DocumentTask | 'rest'): void {
  if (task === 'rest') return collect();
  perform(task).then(
    (result) => send({ result }),
    (error: unknown) => {
      const message = (error instanceof Error ? error.message : String(error)).split('\n')[0]!;
      send(error instanceof UserError ? { error: message, reason: error.reason } : { error: message });
    },
  );
}

if (parentPort) parentPort.on('message', take);
else process.on('message', take);
sayBegun();
