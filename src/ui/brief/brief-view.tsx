import Link from 'next/link';
import type { Brief, First, Lengths } from '@/contract/brief';
import type { JobProgress } from '@/contract/jobs';
import type { Outcome } from '@/core/model/finding';
import { ConflictList } from '../conflict/conflict-list';
import { BackgroundJobs } from '../frame/background-jobs';
import type { Choose } from '../frame/keep';
import { Mark } from '../primitives/mark';
import { Strip } from '../primitives/strip';
import { strings } from '../strings';
import { StartRound } from '../rounds/start-round';
import { BarChart } from './chart';
import { RefreshOnTurn } from './refresh-on-turn';
import { ThumbnailsLine } from './thumbnails';
import { WidespreadList, type SwitchOff } from './widespread';

interface Props {
  collection: string;
  /** What a print of it says it is of; `root` is null for files that were uploaded. */
  of: { name: string; root: string | null };
  brief: Brief;
  /** What is done in the background. */
  jobs: readonly JobProgress[];
  choose: Choose;
  switchOff: SwitchOff;
  /** Of the rules, by id. */
  titles: Record<string, string>;
  /** The server's clock, so that both draw the same dates. */
  now: string;
}

/** The state of a collection in one screen: one sentence, what to do first, what the rules found. */
export function BriefView({ collection, of, brief: b, titles, now, jobs, choose, switchOff }: Props) {
  const s = strings.brief;
  const left = b.missing + b.doubtful;
  const galley = (query: Record<string, string>) => `/c/${collection}/galley?${new URLSearchParams(query)}`;
  return (
    <div className="max-w-[1100px]">
      <p className="print-only">{s.printed(of.name, of.root, strings.when(now, new Date(now)))}</p>
      <h1 className="mb-3.5 max-w-[1000px] text-[25px] leading-[1.42] tracking-[-0.005em]">
        {b.pictures === 0 ? (
          s.nothing
        ) : (
          <>
            {s.of(b.pictures)} <b>{s.described(b.described)}</b>, {s.decorative(b.decorative)},{' '}
            <b>{s.missing(b.missing)}</b> {s.and} {s.doubtful(b.doubtful)}.
            {left > 0 && b.first.length > 0 && ` ${s.settles(b.first.length, Math.min(b.settles, left), left)}`}
          </>
        )}
      </h1>
      <Strip described={b.described} decorative={b.decorative} missing={b.missing} doubtful={b.doubtful} />
      <p className="mt-2 flex flex-wrap gap-x-6 gap-y-1 text-[13.5px] text-ink-2">
        {(['described', 'decorative', 'missing'] as const).map((state) => (
          <Link
            key={state}
            href={galley({ state })}
            className="inline-flex min-h-[24px] items-center gap-1.5 text-ink-2"
          >
            <Mark state={state} />
            <b className="text-ink">{strings.n(b[state])}</b> {s.counts[state]}
          </Link>
        ))}
        <Link href={galley({ state: 'doubtful' })} className="inline-flex min-h-[24px] items-center gap-1.5 text-ink-2">
          <b className="text-ink">{strings.n(b.doubtful)}</b> {s.toCheck}
        </Link>
      </p>
      {b.drafted.texts > 0 && (
        <p className="mt-2 text-[13.5px] text-ink-2">
          {s.drafted(b.drafted.texts, b.drafted.of, b.drafted.live, b.drafted.edited)}
        </p>
      )}
      {left > 0 && <StartRound collection={collection} />}
      <div className="mt-2">
        <BackgroundJobs collection={collection} jobs={jobs} />
      </div>
      <ConflictList collection={collection} conflicts={b.conflicts} choose={choose} />
      <RefreshOnTurn />
      {b.thumbnails && <ThumbnailsLine collection={collection} thumbnails={b.thumbnails} />}
      <WidespreadList collection={collection} widespread={b.widespread} titles={titles} switchOff={switchOff} />
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
          <p className="mt-2 text-[14px]">
            {s.byOutcome(b.outcomes.failed, b.outcomes.cantTell, b.outcomes.advice)}
            {b.ignored > 0 && ` ${s.ignored(b.ignored)}`}
          </p>
          <ul className="mt-2">
            {b.rules.slice(0, RULES_SHOWN).map((r) => (
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
          <p className="mt-2 text-[14px]">
            <Link href={`/c/${collection}/rules`}>{s.allRules(b.rules.length - RULES_SHOWN)}</Link>
          </p>
        </section>
        <section aria-labelledby="lengths">
          <h2 id="lengths" className="rule-below text-[16px] font-bold">
            {s.lengths.title}
          </h2>
          {b.lengths ? <LengthsChart lengths={b.lengths} /> : <p className="py-3 text-ink-2">{s.lengths.none}</p>}
        </section>
        {b.sections.length > 0 && (
          <section aria-labelledby="sections">
            <h2 id="sections" className="rule-below text-[16px] font-bold">
              {s.sections.title}
            </h2>
            <SectionsChart sections={b.sections} />
          </section>
        )}
        {b.history.length > 0 && (
          <section aria-labelledby="surveys">
            <h2 id="surveys" className="rule-below text-[16px] font-bold">
              {s.history.title}
            </h2>
            {b.history.length === 1 ? (
              <p className="py-3 text-ink-2">{s.history.first}</p>
            ) : (
              <HistoryChart history={b.history} now={now} />
            )}
          </section>
        )}
      </div>
    </div>
  );
}

/** Rules that the Brief lists; the others are a link away. */
const RULES_SHOWN = 12;

function LengthsChart({ lengths: { steps, quartiles, over, limit } }: { lengths: Lengths }) {
  const s = strings.brief.lengths;
  const last = steps.length - 1;
  return (
    <BarChart
      says={s.spread(...quartiles, over, limit)}
      heading={s.characters}
      labels={steps.map((_, i) => s.range(i * 10, i === last ? null : i * 10 + 9))}
      short={steps.map((_, i) => strings.n(i * 10))}
      series={[{ name: s.texts, values: steps, filling: 'ink', tone: '--ink' }]}
      height={170}
      tick={{ at: (limit + 1) / 10, words: s.limit(limit) }}
    />
  );
}

function SectionsChart({ sections }: { sections: Brief['sections'] }) {
  const s = strings.brief.sections;
  const name = (section: string) => section || s.front;
  const most = sections[0]!;
  const outcome = (o: Outcome) => strings.outcomes[o];
  return (
    <BarChart
      says={s.most(name(most.name), most.failed, most.cantTell)}
      heading={s.section}
      labels={sections.map((x) => name(x.name))}
      series={[
        { name: outcome('failed'), values: sections.map((x) => x.failed), filling: 'hatching', tone: '--fails' },
        { name: outcome('cantTell'), values: sections.map((x) => x.cantTell), filling: 'uprights', tone: '--look' },
        { name: outcome('advice'), values: sections.map((x) => x.advice), filling: 'dots', tone: '--polish' },
      ]}
      sideways
      height={40 + sections.length * 26}
    />
  );
}

function HistoryChart({ history, now }: { history: Brief['history']; now: string }) {
  const s = strings.brief.history;
  const [before, latest] = [history.at(-2)!, history.at(-1)!];
  const day = (at: string) => strings.when(at, new Date(now));
  const state = (of: 'described' | 'decorative' | 'missing') => history.map((h) => h[of]);
  return (
    <BarChart
      says={s.change(latest.described - before.described, day(before.at))}
      heading={s.survey}
      labels={history.map((h) => day(h.at))}
      series={[
        { name: strings.states.described, values: state('described'), filling: 'ink', tone: '--ink' },
        { name: strings.states.decorative, values: state('decorative'), filling: 'dots', tone: '--ink-2' },
        { name: strings.states.missing, values: state('missing'), filling: 'hatching', tone: '--fails' },
      ]}
      height={180}
    />
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
        {f.picture.thumb && <img src={f.picture.thumb} alt="" className="plate max-h-full max-w-full" />}
      </span>
      <div className="min-w-0">
        <b className="break-words">{f.place ? s.oneChange(f.place) : strings.pictureName(f.picture.name)}</b>
        <p className="text-[13.5px] text-ink-2">
          {f.reason !== null
            ? strings.sentence(strings.message(f.reason))
            : f.kind === 'place'
              ? s.fixes(strings.places(f.places), strings.pages(f.pages))
              : s.onPages(strings.pages(f.pages))}
          {rules && `: ${rules}`}
        </p>
      </div>
      <Link
        href={`/c/${collection}/desk/${f.picture.id}?state=todo&sort=${f.reason === null ? 'reach' : 'first'}&place=${f.appearanceId}`}
        className="col-start-3 text-[14px] whitespace-nowrap sm:col-start-auto"
      >
        {f.kind === 'place' ? s.showPlace : s.toDesk}
        <span className="sr-only"> {strings.pictureName(f.picture.name)}</span>
      </Link>
    </li>
  );
}
