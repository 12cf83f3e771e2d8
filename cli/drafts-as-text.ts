import { strings } from '@/ui/strings';
import { draftEvidence } from '@/ui/strings/draft-evidence';
import type { DraftReport } from './draft';

/** Drafts for people: page by page, each with its place and what it comes from. */
export function draftsAsText({ drafts, failures }: DraftReport): string {
  const s = strings.cli.drafts;
  const lines: string[] = [];
  let page: string | null = null;
  for (const d of drafts) {
    if (d.page !== page) lines.push(...(page === null ? [] : ['']), (page = d.page));
    lines.push(`  ${d.line}  ${d.src ?? ''}`);
    lines.push(`      ${d.decorative ? s.decorative : d.text === null ? s.nothing : `“${d.text}”`}`);
    if (d.evidence.length > 0) lines.push(`      ${draftEvidence(d.evidence)}`);
    if (d.findings.length > 0) lines.push(`      ${s.findings(d.findings.join(', '))}`);
  }
  for (const f of failures) lines.push(`${f.page}: ${f.reason}`);
  const texts = drafts.filter((d) => d.text !== null).length;
  lines.push('', s.sum(texts, drafts.filter((d) => d.decorative).length, drafts.length, failures.length));
  return lines.join('\n');
}
