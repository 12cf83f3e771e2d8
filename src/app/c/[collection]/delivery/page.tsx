import { Suspense } from 'react';
import { notFound } from 'next/navigation';
import { galleyFacets } from '@/server/catalogue/facets';
import type { Collection } from '@/server/catalogue/collections';
import { deliveriesOf } from '@/server/delivery/deliveries';
import { beginPreview, deliveryPreview } from '@/server/delivery/preview';
import { renamesOf } from '@/server/delivery/renames';
import { targetChoices } from '@/server/delivery/targets';
import { FollowChanges } from '@/ui/data/follow-changes';
import { DeliveryView } from '@/ui/delivery/delivery-view';
import { strings } from '@/ui/strings';
import { leaveOut, surveyAgain } from '../../../actions';
import { collectionOnce } from '../once';
import Loading from './loading';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.delivery.title };

export default async function DeliveryPage({ params }: { params: Promise<{ collection: string }> }) {
  const c = await collectionOnce((await params).collection);
  if (!c) notFound();
  return (
    <div className="sheet">
      <FollowChanges />
      <Suspense fallback={<Loading />}>
        <Changes c={c} />
      </Suspense>
    </div>
  );
}

async function Changes({ c }: { c: Collection }) {
  await beginPreview(c);
  const [preview, deliveries, renames, facets] = await Promise.all([
    deliveryPreview(c.id, null),
    deliveriesOf(c.id),
    renamesOf(c),
    galleyFacets(c.id),
  ]);
  return (
    <DeliveryView
      collection={c.id}
      preview={preview}
      deliveries={deliveries}
      targets={targetChoices(c)}
      renames={renames}
      drafts={facets.draft}
      surveyAgain={surveyAgain}
      leaveOut={leaveOut}
    />
  );
}
