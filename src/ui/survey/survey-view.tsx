'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState, useTransition } from 'react';
import type { JobProgress } from '@/contract/jobs';
import type { SurveyProgress as Progress, SurveySummary } from '@/contract/survey';
import { BackgroundJobs } from '../frame/background-jobs';
import type { FormAction } from '../primitives/use-sent-form';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import { CorrectAddress } from './correct-address';

const REDRAW_MS = 4000;

interface Props {
  collection: { id: string; name: string; root: string | null };
  /** The editor owns the site and wants what robots.txt blocks too. */
  ignoresRobots: boolean;
  progress: Progress | null;
  /** What is done in the background. */
  jobs: readonly JobProgress[];
  summary: SurveySummary | null;
  isFirst: boolean;
  stop(survey: number): Promise<void>;
  goOn(survey: number): Promise<void>;
  surveyAgain(form: FormData): Promise<void>;
  /** Where nothing was found under the address, which may be mistyped. */
  correct: FormAction | null;
}

/** What is being gathered, live, and the log of what was not. */
export function SurveyView({
  collection,
  ignoresRobots,
  progress: first,
  jobs,
  summary,
  isFirst,
  stop,
  goOn,
  surveyAgain,
  correct,
}: Props) {
  const s = strings.survey;
  const { progress, lost, watchAgain } = useProgress(first);
  const [pending, start] = useTransition();
  return (
    <div>
      <h1 className="sr-only">{`${s.title}, ${collection.name}`}</h1>
      {progress && <Lead progress={progress} />}
      {collection.root && (
        <p className="mt-1 text-[14px] break-all text-ink-2">
          {s.from} <span className="font-code">{collection.root}</span>
        </p>
      )}
      {progress?.state === 'done' && summary && !isFirst && (
        <p className="mt-1">{s.beside(summary.newPages, summary.changedPages, summary.gonePages)}</p>
      )}
      {ignoresRobots && <p className="mt-1 text-look">{s.ignoresRobots}</p>}
      {progress?.message && (
        <p role="alert" className={`mt-3 max-w-[70ch] ${progress.state === 'failed' ? 'text-fails' : 'text-look'}`}>
          {strings.message(progress.message)}
        </p>
      )}
      {correct && collection.root && <CorrectAddress id={collection.id} root={collection.root} correct={correct} />}
      {lost && (
        <p role="status" className="mt-3 text-look">
          {s.lost}
        </p>
      )}
      <div className="mt-4 flex flex-wrap items-center gap-3" data-focus-home="[data-turn]">
        {progress?.state === 'running' ? (
          <button
            type="button"
            data-turn
            className="button quiet"
            {...whileBusy(pending)}
            onClick={() => start(() => stop(progress.id))}
          >
            {s.stop}
          </button>
        ) : (
          <>
            {progress && progress.pagesDone > 0 && (
              <Link href={`/c/${collection.id}/galley`} className="button no-underline">
                {s.toGalley}
              </Link>
            )}
            {progress?.state === 'stopped' && (
              <button
                type="button"
                data-turn
                className="button quiet"
                {...whileBusy(pending)}
                onClick={() =>
                  start(async () => {
                    await goOn(progress.id);
                    watchAgain();
                  })
                }
              >
                {s.goOn}
              </button>
            )}
            <form action={surveyAgain}>
              <input type="hidden" name="collection" value={collection.id} />
              <button type="submit" className="button quiet">
                {s.again}
              </button>
            </form>
          </>
        )}
      </div>
      {first && first.state !== 'running' && (
        <div className="mt-3">
          <BackgroundJobs collection={collection.id} jobs={jobs} />
        </div>
      )}
      {progress && (
        <>
          <Figures progress={progress} />
          <Recent progress={progress} />
        </>
      )}
    </div>
  );
}

/** Follows a running survey; redraws the places of the spine when it is over. */
function useProgress(first: Progress | null) {
  const router = useRouter();
  const [progress, setProgress] = useState(first);
  const [lost, setLost] = useState(false);
  const [round, setRound] = useState(0);
  const id = first?.id;
  const begun = useRef(first?.state === 'running');
  const drawn = useRef(0);
  useEffect(() => {
    if (id === undefined || !begun.current) return;
    const events = new EventSource(`/api/surveys/${id}/events`);
    events.onmessage = (event) => {
      const next = JSON.parse(String(event.data)) as Progress;
      setLost(false);
      setProgress(next);
      if (next.state === 'running') {
        // The log below is drawn by the server; now and then is often enough.
        if (Date.now() - drawn.current > REDRAW_MS) {
          drawn.current = Date.now();
          router.refresh();
        }
        return;
      }
      events.close();
      router.refresh();
    };
    events.onerror = () => setLost(true);
    return () => events.close();
  }, [id, round, router]);
  const watchAgain = () => {
    begun.current = true;
    setRound((r) => r + 1);
  };
  return { progress, lost, watchAgain };
}

function Lead({ progress: p }: { progress: Progress }) {
  const s = strings.survey;
  const pages = strings.pages(p.pagesDone);
  const pictures = s.files(p.pictures);
  const sentence =
    p.state === 'running'
      ? p.phase === 'auditing'
        ? s.auditing(pages, pictures)
        : s.running(pages, pictures)
      : p.state === 'done'
        ? s.done(pages, pictures)
        : p.state === 'stopped'
          ? s.stopped(pages, strings.pages(p.pagesWaiting))
          : s.failed;
  return (
    <p className="text-[25px] leading-[1.42] tracking-[-0.005em]" role="status">
      {sentence}
    </p>
  );
}

function Figures({ progress: p }: { progress: Progress }) {
  const s = strings.survey;
  const seconds = p.finishedAt ? (Date.parse(p.finishedAt) - Date.parse(p.startedAt)) / 1000 : null;
  const known = p.pagesDone + p.pagesWaiting;
  return (
    <section aria-label={s.title} className="mt-6">
      <div
        role="progressbar"
        aria-label={s.read}
        aria-valuemin={0}
        aria-valuemax={known}
        aria-valuenow={p.pagesDone}
        aria-valuetext={`${strings.pages(p.pagesDone)} ${s.read}, ${strings.n(p.pagesWaiting)} ${s.waiting}`}
        className="h-3.5 border border-ink"
      >
        <div className="filling-ink h-full" style={{ width: `${known === 0 ? 0 : (100 * p.pagesDone) / known}%` }} />
      </div>
      <dl className="mt-3 flex flex-wrap gap-x-7 gap-y-2 text-[14px] text-ink-2">
        {(
          [
            [s.read, strings.pages(p.pagesDone)],
            [s.waiting, strings.n(p.pagesWaiting)],
            [s.skipped, strings.n(p.pagesSkipped)],
            [s.found, strings.n(p.pictures)],
            [s.notRead, strings.n(p.picturesSkipped)],
          ] as const
        ).map(([name, value]) => (
          <div key={name} className="flex flex-row-reverse gap-1.5">
            <dt>{name}</dt>
            <dd className="font-bold text-ink tabular-nums">{value}</dd>
          </div>
        ))}
        {p.perSecond !== null && (
          <div className="flex flex-row-reverse gap-1.5">
            <dt>{s.rate}</dt>
            <dd className="font-bold text-ink tabular-nums">{p.perSecond.toFixed(1)}</dd>
          </div>
        )}
        {seconds !== null && p.state !== 'running' && (
          <div className="flex gap-1.5">
            <dt className="sr-only">{s.title}</dt>
            <dd>
              {s.took(seconds)}
              {seconds >= 1 && p.pagesDone > 0 && `, ${(p.pagesDone / seconds).toFixed(1)} ${s.rate}`}
            </dd>
          </div>
        )}
      </dl>
    </section>
  );
}

function Recent({ progress: p }: { progress: Progress }) {
  const s = strings.survey;
  if (p.state !== 'running' || p.recent.length === 0) return null;
  return (
    <section className="mt-7">
      <h2 className="rule-below text-[16px] font-bold">{s.now}</h2>
      <ul aria-live="off">
        {p.recent.map((r) => (
          <li key={r.address} className="flex justify-between gap-4 border-b border-hair py-1.5 text-[14px]">
            <span className="min-w-0 font-code break-all">{r.address}</span>
            <span className="text-ink-2">{r.state === 'reading' ? '…' : s.read}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
