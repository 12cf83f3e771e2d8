import { notFound } from 'next/navigation';
import { DEFAULT_INSTRUCTIONS } from '@/core/draft/prompt';
import { database } from '@/server/db/database';
import { draftingPlan } from '@/server/drafting/plan';
import { instructionsHistory, instructionsOf } from '@/server/drafting/prompts';
import { draftingFigures } from '@/server/drafting/reading';
import { listRounds } from '@/server/drafting/rounds';
import { listServices } from '@/server/drafting/services';
import { RoundsView } from '@/ui/rounds/rounds-view';
import { strings } from '@/ui/strings';
import { collectionOnce, countsOnce } from '../once';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.rounds.title };

export default async function RoundsPage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  const [rounds, services, instructions, history, figures, plan, counts] = await Promise.all([
    listRounds(c.id),
    listServices(),
    instructionsOf(await database(), c.id),
    instructionsHistory(c.id),
    draftingFigures(c.id),
    draftingPlan(c.id),
    countsOnce(c.id),
  ]);
  const settings = { instructions, usual: DEFAULT_INSTRUCTIONS, history, figures, plan };
  return (
    <div className="sheet">
      <RoundsView
        collection={c.id}
        opened={{ rounds, services, settings, drafts: counts.drafts, now: new Date().toISOString() }}
      />
    </div>
  );
}
