import Link from 'next/link';
import { notFound } from 'next/navigation';
import { collectionById } from '@/server/collections/collections';
import { galleyLines, GalleyView } from '@/server/pictures/lines';
import { latestSurvey, surveyProgress } from '@/server/survey/surveys';

export const dynamic = 'force-dynamic';

const LINES = 100;
const OUTCOME = { failed: ['Fails.', 'text-fails'], cantTell: ['Look.', 'text-look'], advice: ['Polish.', 'text-polish'] } as const;

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function GalleyPage({ params, searchParams }: Props) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const view = GalleyView.parse(await searchParams);
  const surveyId = await latestSurvey(c.id);
  const progress = surveyId === null ? null : await surveyProgress(surveyId);
  const { total, lines } = await galleyLines(c.id, view, 0, LINES);
  return (
    <main>
      <header className="border-b border-hair px-7 py-4">
        <Link href="/">All collections</Link>
        <h1 className="text-[21px]">{c.name}</h1>
        {progress && (
          <p className="text-[14px] text-ink-2" role="status">
            {progress.state === 'running'
              ? `Being surveyed: ${progress.pagesDone} pages read, ${progress.pagesWaiting} waiting, ${progress.pictures} pictures.`
              : (progress.message ?? `${total} pictures on ${progress.pagesDone} pages.`)}
          </p>
        )}
      </header>
      <ol className="bg-sheet">
        {lines.map((l, i) => (
          <li key={l.id} className="grid grid-cols-[46px_1fr_minmax(0,336px)] border-b border-hair">
            <span className="pt-4 pl-4 font-code text-[13px] text-ink-2">{i + 1}</span>
            <div className="px-2 py-3" lang={l.lang ?? undefined}>
              <p className={`font-heard text-[18px] ${l.heard ? '' : 'text-ink-2 italic'}`}>
                {l.heard ? `“${l.heard}”` : l.state === 'silent' ? 'Silent.' : 'Nothing is said here.'}
              </p>
              <p className="text-[13px] text-ink-2">
                {l.state}, {l.purpose}, on {l.reach} pages, {l.name}
              </p>
            </div>
            <div className="grid content-start gap-2 border-l border-hair px-4 py-3 text-[13.5px]">
              {l.notes.map((n) => (
                <p key={n.rule}>
                  <b className={OUTCOME[n.outcome][1]}>{OUTCOME[n.outcome][0]}</b> {n.message}
                </p>
              ))}
            </div>
          </li>
        ))}
      </ol>
    </main>
  );
}
