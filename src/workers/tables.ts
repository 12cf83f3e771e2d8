/** A thread of its own that reads tables which others have made. It takes one task at a time and answers it. */
import { parentPort } from 'node:worker_threads';
import { UserError } from '@/core/model/user-error';
import { addressesInFile } from '@/core/lists/addresses';
import { readList } from '@/core/lists/read-list';
import type { Answer, TableResult, TableTask } from '@/server/workers/tasks';
import { sayBegun } from './begun';
import { collect } from './collect';

const perform = (task: TableTask): Promise<TableResult> =>
  task.kind === 'list' ? readList(Buffer.from(task.bytes), task.options) : addressesInFile(Buffer.from(task.bytes));

parentPort!.on('message', (task: TableTask | 'rest') => {
  if (task === 'rest') return collect();
  const answer = (given: Answer<TableResult>) => parentPort!.postMessage(given);
  perform(task).then(
    (result) => answer({ result }),
    (error: unknown) =>
      answer({
        error: error instanceof Error ? error.message : String(error),
        ...(error instanceof UserError ? { reason: error.reason } : {}),
      }),
  );
});
sayBegun();
