import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Finding } from '@/core/model/finding';
import { WorkerPool } from '../workers/worker-pool';
import { log } from '../log';
import type { AuditAnswer, AuditTask } from './audit-tasks';

/** A portion that takes longer is given up, in milliseconds; the first one opens dictionaries. */
const LIMIT = 120_000;

const shared = globalThis as typeof globalThis & { dettoAuditor?: WorkerPool<AuditTask, AuditAnswer> | null };

function auditor(): WorkerPool<AuditTask, AuditAnswer> {
  return (shared.dettoAuditor ??= new WorkerPool(
    1,
    () => {
      const worker = new Worker(path.join(process.cwd(), 'dist', 'workers', 'auditor.js'), {
        resourceLimits: { maxYoungGenerationSizeMb: 12 },
      });
      worker.on('error', () => undefined);
      return {
        send: (task) => worker.postMessage(task),
        end: () => void worker.terminate(),
        onAnswer: (take) => void worker.on('message', take),
        onGone: (take) => void worker.on('exit', take),
      };
    },
    LIMIT,
  ));
}

/**
 * What the rules find in a portion of a collection.
 *
 * @param urgent an editor waits for it, and an audit of everything does not
 *
 * @throws Error in words when the thread failed or took too long
 */
export async function findingsOf(task: AuditTask, urgent = false): Promise<Finding[]> {
  const answer = await auditor().ask(task, urgent);
  if ('error' in answer) throw new Error(`The audit failed: ${answer.error}`);
  for (const [rule, message] of answer.failures) log.error({ rule, message }, 'a rule failed; its finding is missing');
  return answer.findings;
}

export function closeAuditor(): void {
  shared.dettoAuditor?.close();
  shared.dettoAuditor = null;
}
