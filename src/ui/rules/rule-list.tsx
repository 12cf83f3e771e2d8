import Link from 'next/link';
import { RULE_GROUPS, type RuleGroup } from '@/core/rules/support/rule';
import { type Outcome } from '@/core/model/finding';
import { OutcomeWords } from './outcome-words';
import { strings } from '../strings';

interface Props {
  collection: string;
  rules: readonly {
    id: string;
    title: string;
    group: RuleGroup;
    gives: readonly Outcome[];
    off: boolean;
    found: number;
  }[];
}

/** Every rule with what it found here, in the parts of the catalogue. */
export function RuleList({ collection, rules }: Props) {
  const s = strings.rules;
  return (
    <div className="max-w-[860px]">
      <h1 className="text-[25px] leading-[1.42]">{s.lead(rules.length)}</h1>
      {RULE_GROUPS.map((group) => (
        <section key={group} aria-labelledby={group} className="mt-6">
          <h2 id={group} className="rule-below text-[16px] font-bold">
            {s.groups[group]}
          </h2>
          <ul>
            {rules
              .filter((r) => r.group === group)
              .map((r) => (
                <li key={r.id} className="grid gap-x-6 border-b border-hair py-2 sm:grid-cols-[1fr_150px_220px]">
                  <Link href={`/c/${collection}/rules/${r.id}`} className="font-semibold">
                    {r.title}
                  </Link>
                  <OutcomeWords outcomes={r.gives} />
                  <span className={r.found === 0 ? 'text-ink-2' : ''}>{r.off ? s.isOff : s.found(r.found)}</span>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
