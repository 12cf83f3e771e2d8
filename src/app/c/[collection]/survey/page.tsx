import { notFound } from 'next/navigation';
import { collectionById } from '@/server/collections/collections';
import { latestSurvey, surveyProgress } from '@/server/survey/surveys';
import { strings } from '@/ui/strings/en';
import { SurveyView } from '@/ui/survey/survey-view';
import { goOn, stop, surveyAgain } from '../../../actions';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.survey.title };

export default async function SurveyPage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionById((await params).collection);
  if (!c) notFound();
  const latest = await latestSurvey(c.id);
  const progress = latest === null ? null : await surveyProgress(latest);
  return (
    <div className="sheet">
      <SurveyView
        key={latest}
        collection={{ id: c.id, name: c.name, root: c.kind === 'site' || c.kind === 'folder' ? c.root : null }}
        progress={progress}
        stop={stop}
        goOn={goOn}
        surveyAgain={surveyAgain}
      />
    </div>
  );
}
