import type { RuleContext } from '@/core/model/rule-context';
import { languageOf } from '@/core/rules/support/words';
import type { Finding } from '@/core/model/finding';
import { scriptOf, threadOf } from '../workers/worker-handles';
import { WorkerPool } from '../workers/worker-pool';
import { log } from '../log';
import type { AuditAnswer, AuditTask } from './audit-tasks';

/** Milliseconds of processor time after which a portion is given up; the first one opens dictionaries. */
const LIMIT = 120_000;

const shared = globalThis as typeof globalThis & { dettoAuditor?: WorkerPool<AuditTask, AuditAnswer> | null };

function auditor(): WorkerPool<AuditTask, AuditAnswer> {
  return (shared.dettoAuditor ??= new WorkerPool(1, () => threadOf(scriptOf('auditor')), {
    limit: LIMIT,
  }));
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

/** Languages whose dictionaries this process has had opened. */
const opened = new Set<string>();

/**
 * Has the dictionaries opened that a text at a place will be checked with: they take seconds, for which the first save would
 * wait otherwise, and everybody else for that save. Nobody waits for it here.
 *
 * @param context with some words in the language of the place
 */
export function openDictionaries(context: RuleContext): void {
  const language = languageOf(context)?.toLowerCase().split('-')[0] ?? '';
  if (opened.has(language)) return;
  opened.add(language);
  const task = {
    style: {},
    phrases: [],
    vocabulary: '',
    only: ['misspelt', 'other-language'],
    contexts: [context],
    groups: [],
  };
  findingsOf(task).catch((error: Error) => log.warn({ error: error.message }, 'dictionaries were not opened ahead'));
}

export function closeAuditor(): void {
  opened.clear();
  shared.dettoAuditor?.close();
  shared.dettoAuditor = null;
}
