/** A thread of its own that audits: rules and dictionaries would hold up the process that serves people. */
import { parentPort } from 'node:worker_threads';
import { performAudit, type AuditAnswer, type AuditTask } from '@/server/audit/audit-tasks';
import { sayBegun } from './begun';
import { collect } from './collect';

const MUCH = 110_000_000;
// Loading the n-grams by which languages are reported leaves as much behind as they are.
collect();

parentPort!.on('message', (task: AuditTask) => void answerTask(task));
sayBegun();

async function answerTask(task: AuditTask): Promise<void> {
  let answer: AuditAnswer;
  try {
    answer = await performAudit(task);
  } catch (error) {
    answer = { error: error instanceof Error ? error.message : String(error) };
  }
  parentPort!.postMessage(answer);
  if (process.memoryUsage().heapUsed > MUCH) collect();
}
