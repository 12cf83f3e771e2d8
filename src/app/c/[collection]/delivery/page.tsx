import { Suspense } from 'react';
import { notFound } from 'next/navigation';
import type { Collection } from '@/server/catalogue/collections';
import { pastDeliveries, previewDelivery } from '@/server/delivery/delivery';
import { renamesOf } from '@/server/delivery/renames';
import { galleyFacets } from '@/server/catalogue/facets';
import { DeliveryProgressLine } from '@/ui/delivery/delivery-progress';
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
  return (
    <div className="sheet">
      <FollowChanges />
      <Suspense
        fallback={
          <>
            <h1 className="sr-only">{strings.delivery.title}</h1>
            <DeliveryProgressLine collection={c.id} begun={strings.delivery.comparing} />
          </>
        }
      >
        <Changes c={c} />
      </Suspense>
    </div>
  );
}

async function Changes({ c }: { c: Collection }) {
  const [pages, renames, past, facets] = await Promise.all([
    previewDelivery(c),
    renamesOf(c),
    pastDeliveries(c.id),
    galleyFacets(c.id),
  ]);
  const now = new Date();
  return (
    <DeliveryView
      collection={c.id}
      pages={pages}
      renames={renames}
      drafts={facets.draft}
      past={past.map((p) => ({ ...p, at: strings.when(p.at, now) }))}
      surveyAgain={surveyAgain}
      leaveOut={leaveOut}
    />
  );
}
