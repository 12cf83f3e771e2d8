import { strings } from '@/ui/strings';
import type { AuditReport } from './report';

/** Findings, and addresses that were skipped, listed one by one; a longer list is for `--json`. */
const MOST = 200;
const MOST_SKIPPED = 20;

/** The report as plain lines for a terminal, in the order of pages. */
export function asText(report: AuditReport): string {
  const { summary, findings } = report;
  const s = strings.cli;
  const lines: string[] = [];
  let page = '';
  for (const f of findings.slice(0, MOST)) {
    if (f.page !== page) lines.push('', (page = f.page));
    lines.push(`  ${f.line}:${f.column}  ${strings.outcomes[f.outcome]}: ${f.message} (${f.rule})`);
  }
  if (findings.length > MOST) lines.push('', s.moreFindings(findings.length - MOST));
  for (const { address, reason } of summary.skipped.slice(0, MOST_SKIPPED)) lines.push('', s.skipped(address, reason));
  if (summary.skipped.length > MOST_SKIPPED) lines.push('', s.moreSkipped(summary.skipped.length - MOST_SKIPPED));
  for (const { address, note } of summary.notes.slice(0, MOST_SKIPPED)) lines.push('', s.noted(address, note));
  if (summary.notes.length > MOST_SKIPPED) lines.push('', s.moreNoted(summary.notes.length - MOST_SKIPPED));
  lines.push('', s.states(summary), s.outcomes(summary));
  return lines.join('\n').replace(/^\n/, '');
}
