import Link from 'next/link';
import type { Outcome } from '@/core/rules/rule';
import { OutcomeWords } from './outcome-words';
import { strings } from '../strings/en';

interface Props {
  collection: string;
  rules: readonly { id: string; title: string; gives: readonly Outcome[]; found: number }[];
}

export function RuleList({ collection, rules }: Props) {
  const s = strings.rules;
  return (
    <div className="max-w-[860px]">
      <h1 className="text-[25px] leading-[1.42]">{s.lead(rules.length)}</h1>
      <ul className="mt-4 border-t-2 border-ink">
        {rules.map((r) => (
          <li key={r.id} className="grid gap-x-6 border-b border-hair py-2.5 sm:grid-cols-[1fr_150px_220px]">
            <Link href={`/c/${collection}/rules/${r.id}`} className="font-semibold">
              {r.title}
            </Link>
            <OutcomeWords outcomes={r.gives} />
            <span className={r.found === 0 ? 'text-ink-2' : ''}>{s.found(r.found)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
