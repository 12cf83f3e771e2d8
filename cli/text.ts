import { count } from '@/core/rules/support/words';
import type { AuditReport } from './audit';

const WORDS: Record<string, string> = { failed: 'Fails', cantTell: 'Check', advice: 'Improve' };
/** Findings listed one by one; a longer list is for `--json`. */
const MOST = 200;

/** The report as plain lines for a terminal, in the order of pages. */
export function asText(report: AuditReport): string {
  const { summary: s } = report;
  const lines: string[] = [];
  let page = '';
  for (const f of report.findings.slice(0, MOST)) {
    if (f.page !== page) lines.push('', (page = f.page));
    lines.push(`  ${f.line}:${f.column}  ${WORDS[f.outcome]}: ${f.message} (${f.rule})`);
  }
  if (report.findings.length > MOST) lines.push('', `… and ${report.findings.length - MOST} more; --json lists all.`);
  for (const { address, reason } of s.skipped.slice(0, 20)) lines.push('', `Skipped ${address}: ${reason}.`);
  if (s.skipped.length > 20) lines.push('', `… and ${s.skipped.length - 20} more were skipped.`);
  lines.push(
    '',
    `${count(s.appearances, 'appearance')} of ${count(s.pictures, 'picture')} on ${count(s.pages, 'page')}: ${s.described} with alt text, ${s.decorative} decorative, ${s.missing} missing.`,
    `${s.failed} fail, ${s.cantTell} to check, ${s.advice} to improve.`,
  );
  return lines.join('\n').replace(/^\n/, '');
}
