import { notFound } from 'next/navigation';
import { Scope } from '@/contract/scope';
import { progressOf } from '@/server/jobs/progress';
import { collectionById } from '@/server/catalogue/collections';
import { pagePictures } from '@/server/catalogue/page-pictures';
import { SurveyLogView, surveyLog } from '@/server/survey/survey-log';
import { latestSurvey, pastSurveys, surveyProgress } from '@/server/survey/survey-progress';
import { LogTable } from '@/ui/survey/log-table';
import { LimitsForm } from '@/ui/survey/limits-form';
import { PagePictureList } from '@/ui/survey/page-pictures';
import { PastSurveys } from '@/ui/survey/past-surveys';
import { SurveyView } from '@/ui/survey/survey-view';
import { strings } from '@/ui/strings';
import { correctAddress, goOn, saveLimits, stop, surveyAgain } from '../../../actions';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.survey.title };

/** Whether there is one address from which it is surveyed. */
const isCorrectable = (c: { kind: string; scope: unknown }) =>
  c.kind === 'folder' || (c.kind === 'site' && Scope.parse(c.scope).follow);

interface Props {
  params: Promise<{ collection: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function SurveyPage({ params, searchParams }: Props) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const view = SurveyLogView.parse(await searchParams);
  const latest = await latestSurvey(c.id);
  const [progress, log, past, pictures, jobs] = await Promise.all([
    latest === null ? null : surveyProgress(latest),
    latest === null ? null : surveyLog(latest, view),
    pastSurveys(c.id),
    pagePictures(c.id),
    progressOf(c.id),
  ]);
  const now = new Date();
  return (
    <div className="sheet">
      <div className="max-w-[1080px]">
        <SurveyView
          key={latest}
          collection={{ id: c.id, name: c.name, root: c.kind === 'site' || c.kind === 'folder' ? c.root : null }}
          ignoresRobots={c.kind === 'site' && !Scope.parse(c.scope).obeyRobots}
          progress={progress}
          jobs={jobs}
          summary={past[0]?.summary ?? null}
          isFirst={past.length < 2}
          stop={stop}
          goOn={goOn}
          surveyAgain={surveyAgain}
          correct={isCorrectable(c) && progress?.state === 'failed' && progress.pagesDone === 0 ? correctAddress : null}
        />
        {c.kind === 'site' && (
          <LimitsForm
            collection={c.id}
            maxPages={c.maxPages}
            maxDepth={c.maxDepth}
            scope={Scope.parse(c.scope)}
            hasAccess={c.access !== null}
            change={saveLimits}
          />
        )}
        {latest !== null && log && <LogTable collection={c.id} survey={latest} log={log} view={view} />}
        <PagePictureList pictures={pictures} />
        <PastSurveys past={past.map((p) => ({ ...p, startedAt: strings.when(p.startedAt, now) }))} />
      </div>
    </div>
  );
}
