import Link from 'next/link';
import type { Brief, First } from '@/contract/brief';
import { Mark } from '../primitives/mark';
import { Strip } from '../primitives/strip';
import { strings } from '../strings/en';

interface Props {
  collection: string;
  brief: Brief;
  /** Of the rules, by id. */
  titles: Record<string, string>;
}

/** The state of a collection in one screen: one sentence, what to do first, what the rules found. */
export function BriefView({ collection, brief: b, titles }: Props) {
  const s = strings.brief;
  const left = b.unsaid + b.doubtful;
  const galley = (query: Record<string, string>) => `/c/${collection}/galley?${new URLSearchParams(query)}`;
  return (
    <div className="max-w-[1100px]">
      <h1 className="mb-3.5 max-w-[1000px] text-[25px] leading-[1.42] tracking-[-0.005em]">
        {b.pictures === 0 ? (
          s.nothing
        ) : (
          <>
            {s.of(b.pictures)} <b>{s.said(b.said)}</b>, {s.silent(b.silent)}, <b>{s.unsaid(b.unsaid)}</b> {s.and}{' '}
            {s.doubtful(b.doubtful)}.
            {left > 0 && b.first.length > 0 && ` ${s.settles(b.first.length, Math.min(b.settles, left), left)}`}
          </>
        )}
      </h1>
      <Strip said={b.said} silent={b.silent} unsaid={b.unsaid} doubtful={b.doubtful} />
      <p className="mt-2 flex flex-wrap gap-x-6 gap-y-1 text-[13.5px] text-ink-2">
        {(['said', 'silent', 'unsaid'] as const).map((state) => (
          <Link key={state} href={galley({ state })} className="inline-flex items-center gap-1.5 text-ink-2">
            <Mark state={state} />
            <b className="text-ink">{strings.n(b[state])}</b> {strings.states[state].toLowerCase()}
          </Link>
        ))}
        <Link href={galley({ state: 'doubtful' })} className="text-ink-2">
          <b className="text-ink">{strings.n(b.doubtful)}</b> {s.toLookAt}
        </Link>
      </p>
      <div className="mt-6 grid gap-x-10 gap-y-7 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
        <section aria-labelledby="first">
          <h2 id="first" className="rule-below text-[16px] font-bold">
            {s.first}
          </h2>
          {b.first.length === 0 && <p className="py-3 text-ink-2">{s.nothingFirst}</p>}
          <ol>
            {b.first.map((f, i) => (
              <FirstLine
                key={`${f.kind} ${f.appearanceId}`}
                first={f}
                position={i + 1}
                collection={collection}
                titles={titles}
              />
            ))}
          </ol>
        </section>
        <section aria-labelledby="found">
          <h2 id="found" className="rule-below text-[16px] font-bold">
            {s.found}
          </h2>
          {b.rules.length === 0 && <p className="py-3 text-ink-2">{s.nothingFound}</p>}
          <ul className="mt-2">
            {b.rules.map((r) => (
              <li
                key={r.rule}
                className="grid grid-cols-[minmax(0,1fr)_minmax(60px,150px)_40px] items-center gap-x-3 py-[3px] text-[14px]"
              >
                <Link href={galley({ rule: r.rule })} className="text-ink">
                  {titles[r.rule]}
                </Link>
                <span className="h-[9px]" aria-hidden="true">
                  <span
                    className={`block h-full bar-${r.outcome}`}
                    style={{ width: `${(100 * r.pictures) / b.rules[0]!.pictures}%` }}
                  />
                </span>
                <span className="text-right tabular-nums">
                  {strings.n(r.pictures)} <span className="sr-only">{s.picturesLookAt}</span>
                </span>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}

interface LineProps {
  first: First;
  position: number;
  collection: string;
  titles: Props['titles'];
}

function FirstLine({ first: f, position, collection, titles }: LineProps) {
  const s = strings.brief;
  const inSentence = (title: string) => title.charAt(0).toLowerCase() + title.slice(1);
  const rules = f.rules.map((r) => inSentence(titles[r] ?? r)).join(', ');
  return (
    <li className="grid grid-cols-[22px_60px_minmax(0,1fr)] items-center gap-x-3 gap-y-1 border-b border-hair py-2.5 sm:grid-cols-[22px_60px_minmax(0,1fr)_auto]">
      <span className="font-code text-[13px] text-ink-2">{position}</span>
      <span className="flex h-[45px] w-[60px] items-center justify-center overflow-hidden">
        {f.picture.thumb && <img src={`/thumb/${f.picture.thumb}`} alt="" className="plate max-h-full max-w-full" />}
      </span>
      <div className="min-w-0">
        <b className="break-words">{f.place ? s.oneChange(f.place) : f.picture.name}</b>
        <p className="text-[13.5px] text-ink-2">
          {f.kind === 'place'
            ? s.mends(strings.places(f.places), strings.pages(f.pages))
            : s.onPages(strings.pages(f.pages))}
          {rules && `: ${rules}`}
        </p>
      </div>
      <Link
        href={`/c/${collection}/desk/${f.picture.id}?state=doubtful&place=${f.appearanceId}`}
        className="col-start-3 text-[14px] whitespace-nowrap sm:col-start-auto"
      >
        {f.kind === 'place' ? s.showPlace : s.toDesk}
        <span className="sr-only"> {f.picture.name}</span>
      </Link>
    </li>
  );
}
