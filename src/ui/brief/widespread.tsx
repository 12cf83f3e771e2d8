'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { Brief } from '@/contract/brief';
import { useActs } from '../frame/acts';
import { strings } from '../strings';

export type SwitchOff = (collection: string, rule: string, act: string) => Promise<void>;

interface Props {
  collection: string;
  widespread: Brief['widespread'];
  /** Of the rules, by id. */
  titles: Record<string, string>;
  switchOff: SwitchOff;
}

/** What is found nearly everywhere, one line and one decision each. */
export function WidespreadList({ collection, widespread, titles, switchOff }: Props) {
  const s = strings.brief.widespread;
  const router = useRouter();
  const { did } = useActs();
  if (widespread.length === 0) return null;
  return (
    <section aria-labelledby="widespread" className="mt-6">
      <h2 id="widespread" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="mt-2 max-w-[72ch] text-[14px] text-ink-2">{s.about}</p>
      <ul>
        {widespread.map(({ rule, places, of }) => {
          const title = titles[rule] ?? rule;
          return (
            <li
              key={rule}
              className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 border-b border-hair py-2 text-[14px]"
            >
              <span className="min-w-0">
                <b>{title}</b> <span className="text-ink-2">{s.places(places, of)}</span>
              </span>
              <span className="flex gap-x-5">
                <Link href={`/c/${collection}/galley?rule=${rule}`}>
                  {s.show}
                  <span className="sr-only">: {title}</span>
                </Link>
                <button
                  type="button"
                  className="link"
                  onClick={() => {
                    const act = crypto.randomUUID();
                    void switchOff(collection, rule, act).then(() => {
                      did(s.off(title), { what: s.offAct(title), act });
                      router.refresh();
                    });
                  }}
                >
                  {s.switchOff}
                  <span className="sr-only">: {title}</span>
                </button>
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
