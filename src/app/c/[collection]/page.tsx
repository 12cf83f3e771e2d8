import { redirect } from 'next/navigation';
import { latestSurvey, surveyProgress } from '@/server/survey/survey-progress';

export const dynamic = 'force-dynamic';

/** A collection opens at its Brief, or at its Survey while that runs. */
export default async function CollectionPage({ params }: { params: Promise<{ collection: string }> }) {
  const { collection } = await params;
  const latest = await latestSurvey(collection);
  const progress = latest === null ? null : await surveyProgress(latest);
  redirect(`/c/${collection}/${progress?.state === 'done' ? 'brief' : 'survey'}`);
}
