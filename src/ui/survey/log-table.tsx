'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { CAUSES, type SurveyLog } from '@/contract/survey';
import { Pick } from '../primitives/pick';
import { strings } from '../strings';

interface Props {
  collection: string;
  survey: number;
  log: SurveyLog;
  view: { what: string; from: number };
}

/** Every address that the survey met, with its outcome; filtered by a sentence, taken as a table. */
export function LogTable({ collection, survey, log, view }: Props) {
  const s = strings.log;
  const router = useRouter();
  const href = (what: string, from = 0) =>
    `/c/${collection}/survey?${new URLSearchParams({ what, from: String(from) })}`;
  const { counts } = log;
  const skipped = CAUSES.reduce((sum, cause) => sum + (counts[cause] ?? 0), 0);
  const all = skipped + (counts.read ?? 0) + (counts.waiting ?? 0);
  const options = [
    { value: 'all', label: s.what.all, count: all },
    { value: 'read', label: s.what.read, count: counts.read ?? 0 },
    { value: 'waiting', label: s.what.waiting, count: counts.waiting ?? 0 },
    { value: 'skipped', label: s.what.skipped, count: skipped },
    ...CAUSES.filter((cause) => counts[cause] || cause === view.what).map((cause) => ({
      value: cause,
      label: s.what[cause],
      count: counts[cause] ?? 0,
    })),
  ];
  const next = view.from + log.lines.length;
  return (
    <section className="mt-7" aria-labelledby="log">
      <h2 id="log" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 py-2">
        <p className="text-[17px]">
          {s.addresses}{' '}
          <Pick
            label={s.filter}
            value={view.what}
            options={options}
            onChange={(what) => router.push(href(what), { scroll: false })}
          />
        </p>
        <a href={`/api/surveys/${survey}/log.csv?what=${view.what}`} download className="text-[14px]">
          {s.csv}
        </a>
      </div>
      {log.lines.length === 0 ? (
        <p className="border-t border-hair py-3 text-ink-2">{view.what === 'skipped' ? s.nothing : s.none}</p>
      ) : (
        <ul className="border-t border-hair">
          {log.lines.map((v) => (
            <li
              key={`${v.kind} ${v.address}`}
              className="grid gap-x-6 border-b border-hair py-2 text-[14px] md:grid-cols-[84px_minmax(0,2fr)_minmax(0,1fr)]"
            >
              <span className="text-ink-2">{s.kinds[v.kind]}</span>
              <span className="min-w-0">
                <span className="font-code break-all">{v.address}</span>
                {v.foundOn && v.state !== 'done' && (
                  <span className="block text-[13px] break-all text-ink-2">{s.foundOn(v.foundOn)}</span>
                )}
              </span>
              <span>
                {v.state === 'skipped'
                  ? v.reason && strings.message(v.reason)
                  : v.state === 'done'
                    ? s.what.read
                    : s.what.waiting}
                {v.state === 'done' && v.rendered && `, ${s.inBrowser}`}
                {v.state === 'done' && v.status === 304 && `, ${s.unchanged}`}
                {v.state === 'done' && v.reason && (
                  <span className="block text-[13px] text-ink-2">{strings.message(v.reason)}</span>
                )}
              </span>
            </li>
          ))}
        </ul>
      )}
      {log.total > log.lines.length && (
        <p className="mt-2 flex flex-wrap gap-x-4 text-[14px] text-ink-2">
          <span>{s.range(view.from + 1, next, log.total)}</span>
          {view.from > 0 && <Link href={href(view.what, Math.max(0, view.from - 200))}>{s.before}</Link>}
          {next < log.total && <Link href={href(view.what, next)}>{s.after}</Link>}
        </p>
      )}
    </section>
  );
}
