import { createHash } from 'node:crypto';
import { and, eq, inArray, or } from 'drizzle-orm';
import type { Finding } from '@/core/model/finding';
import type { RuleContext } from '@/core/model/rule-context';
import { heardWords } from '@/core/rules/support/words';
import { among, insertRows } from '../db/bulk';
import type { Queryable } from '../db/database';
import { finding, ignoredFinding } from '../db/schema';
import type { StoredRuleContext } from './rule-contexts';

/** Findings in one statement. */
const FINDINGS = 5000;

/** Deletes what some rules had found at some appearances, in one statement, because each costs a round trip. */
export async function dropFindings(
  tx: Queryable,
  found: readonly { rules: readonly string[]; contexts: readonly RuleContext[] }[],
): Promise<void> {
  const some = found.filter(({ contexts }) => contexts.length > 0);
  if (some.length === 0) return;
  const each = some.map(({ rules, contexts }) => {
    const ids = contexts.map((s) => Number(s.id));
    return and(inArray(finding.rule, [...rules]), among(finding.appearanceId, ids));
  });
  await tx.delete(finding).where(or(...each));
}

/** Writes findings; those that an editor ignores stay ignored while the words and the picture are the same. */
export async function insertFindings(
  tx: Queryable,
  collectionId: string,
  findings: readonly Finding[],
  contexts: readonly StoredRuleContext[],
): Promise<void> {
  const at = new Map(contexts.map((s) => [s.id, s]));
  const ignored = await ignoredAmong(
    tx,
    findings.map((f) => Number(f.context)),
  );
  for (let i = 0; i < findings.length; i += FINDINGS)
    await insertRows(
      tx,
      finding,
      findings.slice(i, i + FINDINGS).map((f) => ({
        collectionId,
        pictureId: at.get(f.context)!.pictureId,
        appearanceId: Number(f.context),
        pageId: at.get(f.context)!.pageId,
        rule: f.rule,
        outcome: f.outcome,
        message: f.message,
        spanStart: f.span?.start ?? null,
        spanEnd: f.span?.end ?? null,
        fixes: f.fixes ?? [],
        also: f.also ?? [],
        ignored: ignored.get(`${f.context} ${f.rule}`) === basisOf(at.get(f.context)!),
      })),
    );
}

/** What a finding that was ignored was about: the words and the picture. */
export function basisOf({ appearance: a, picture: p }: RuleContext): string {
  const about = JSON.stringify([a.state, heardWords(a), p?.sha256 ?? p?.src ?? null]);
  return createHash('sha256').update(about).digest('hex').slice(0, 40);
}

/** By appearance and rule, what the findings that were ignored were about; the last word counts. */
async function ignoredAmong(tx: Queryable, ids: readonly number[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ id: ignoredFinding.appearanceId, rule: ignoredFinding.rule, basis: ignoredFinding.basis })
    .from(ignoredFinding)
    .where(and(among(ignoredFinding.appearanceId, [...new Set(ids)]), eq(ignoredFinding.undone, false)))
    .orderBy(ignoredFinding.id);
  return new Map(rows.map(({ id, rule, basis }) => [`${id} ${rule}`, basis]));
}
