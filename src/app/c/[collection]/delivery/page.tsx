import { notFound } from 'next/navigation';
import { pastDeliveries, previewDelivery } from '@/server/delivery/delivery';
import { renamesOf } from '@/server/delivery/renames';
import { galleyFacets } from '@/server/catalogue/lines';
import { DeliveryView } from '@/ui/delivery/delivery-view';
import { FollowChanges } from '@/ui/data/follow-changes';
import { strings } from '@/ui/strings';
import { leaveOut, surveyAgain } from '../../../actions';
import { collectionOnce } from '../once';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.delivery.title };

export default async function DeliveryPage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  const [pages, renames, past, facets] = await Promise.all([
    previewDelivery(c),
    renamesOf(c),
    pastDeliveries(c.id),
    galleyFacets(c.id),
  ]);
  const now = new Date();
  return (
    <div className="sheet">
      <FollowChanges />
      <DeliveryView
        collection={c.id}
        pages={pages}
        renames={renames}
        drafts={facets.draft}
        past={past.map((p) => ({ ...p, at: strings.when(p.at, now) }))}
        surveyAgain={surveyAgain}
        leaveOut={leaveOut}
      />
    </div>
  );
}
