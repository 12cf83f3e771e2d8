'use client';

import { useInfiniteQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, type ReactNode } from 'react';
import type { Delivery, DeliveryPreview, DeliverySums, Rename, TargetChoice } from '@/contract/delivery';
import { ownTitle } from '@/core/words/page-title';
import { useActs } from '../frame/acts';
import { fetchJson, queries } from '../data/queries';
import { Time } from '../primitives/time';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import { Deliveries } from './deliveries';
import { PageChanges } from './page-changes';
import { Renames } from './renames';
import { Targets } from './targets';
import { useDeliveries } from './use-deliveries';

interface Props {
  collection: string;
  /** As far as it was prepared when the page was drawn. */
  preview: DeliveryPreview;
  deliveries: readonly Delivery[];
  targets: readonly TargetChoice[];
  renames: readonly Rename[];
  drafts: number;
  surveyAgain(form: FormData): Promise<void>;
  /** Leaves the words of a place out, or puts them back. */
  leaveOut(collection: string, place: number, leftOut: boolean, act: string): Promise<void>;
}

/** Every change before it is taken, and the ways to take it. */
export function DeliveryView(props: Props) {
  const { collection, targets, renames, drafts, surveyAgain, leaveOut } = props;
  const s = strings.delivery;
  const router = useRouter();
  const { did, onTurn } = useActs();
  useEffect(() => onTurn(() => router.refresh()), [onTurn, router]);
  const { parts, hasMore, more, compare, isComparing } = usePreview(collection, props.preview);
  const deliveries = useDeliveries(collection, props.deliveries);
  const setLeftOut = async (place: number, at: string, page: string, leftOut: boolean) => {
    const act = crypto.randomUUID();
    await leaveOut(collection, place, leftOut, act);
    const what = s.leaving(at, page, leftOut);
    did(s.leftOutDone(what), { what, act, href: `/c/${collection}/delivery` });
    router.refresh();
  };
  const { sums, isPreparing, comparedAt } = parts[0]!;
  const pages = parts.flatMap((p) => p.pages);
  return (
    <div className="max-w-[1080px]">
      <Lead sums={sums} isPreparing={isPreparing} drafts={drafts} isEmpty={renames.length === 0} />
      {sums.changes > 0 && <Targets collection={collection} sums={sums} targets={targets} deliveries={deliveries} />}
      <Deliveries deliveries={deliveries} which="under-way" />
      {isPreparing && <Preparing sums={sums} />}
      {comparedAt !== null && (
        <p className="mt-3 flex flex-wrap items-baseline gap-x-3 text-[14px] text-ink-2">
          {!isPreparing && (
            <span>
              {s.compared} <Time at={comparedAt} />.
            </span>
          )}
          {/* It stays while it is busy, and with it the focus. */}
          <button type="button" className="link" onClick={compare} {...whileBusy(isPreparing || isComparing)}>
            {s.compareAgain}
          </button>
        </p>
      )}
      {pages.map((page) => (
        <PageChanges
          key={page.path}
          page={page}
          collection={collection}
          surveyAgain={surveyAgain}
          setLeftOut={(place, at, leftOut) => void setLeftOut(place, at, ownTitle(page.title) || page.path, leftOut)}
        />
      ))}
      {hasMore && (
        <p className="mt-5">
          <button type="button" className="button quiet" onClick={more}>
            {s.more}
          </button>{' '}
          <span className="text-[14px] text-ink-2">{s.shown(pages.length, sums.documents)}</span>
        </p>
      )}
      <Renames collection={collection} renames={renames} />
      <Deliveries deliveries={deliveries} which="past" />
    </div>
  );
}

/** Milliseconds between two looks at how far a preview is. */
const POLL_MS = 500;

/** What a delivery would do, in parts; it is followed while it is being prepared. */
function usePreview(collection: string, first: DeliveryPreview) {
  const query = useInfiniteQuery({
    ...queries.deliveryPreview(collection),
    initialData: { pages: [first], pageParams: [null] },
    refetchInterval: ({ state }) => (state.data?.pages[0]?.isPreparing ? POLL_MS : false),
  });
  const { data, refetch, fetchNextPage, hasNextPage } = query;
  // The page was drawn again because something has changed.
  useEffect(() => void refetch(), [first, refetch]);
  const compare = () =>
    void fetchJson(`/api/collections/${collection}/delivery/compare`, { method: 'POST' }).finally(() => refetch());
  return {
    parts: data.pages,
    hasMore: hasNextPage,
    more: () => void fetchNextPage(),
    compare,
    isComparing: query.isRefetching && !data.pages[0]!.isPreparing,
  };
}

/** How much there is to deliver, and what stays behind and why. */
function Lead({
  sums,
  isPreparing,
  drafts,
  isEmpty,
}: {
  sums: DeliverySums;
  isPreparing: boolean;
  drafts: number;
  /** Nothing else is on the page. */
  isEmpty: boolean;
}): ReactNode {
  const s = strings.delivery;
  const { changes, waiting } = sums;
  const behind = [
    sums.leftOutTexts > 0 ? s.changedPages(sums.leftOutTexts, strings.pages(sums.leftOut)) : '',
    sums.conflicts > 0 ? s.conflicts(sums.conflicts) : '',
    sums.refusals > 0 ? s.refusals(sums.refusals) : '',
    sums.aside > 0 ? s.asides(sums.aside) : '',
  ].filter(Boolean);
  return (
    <>
      <h1 className="text-[25px] leading-[1.42] tracking-[-0.005em]">
        {changes > 0 ? s.lead(changes, strings.pages(sums.changed)) : isPreparing ? s.title : s.nothing}
      </h1>
      {waiting > changes && <p className="mt-2 max-w-[80ch]">{[s.behind(changes, waiting), ...behind].join(' ')}</p>}
      {sums.documents === 0 && isEmpty && <p className="mt-2 max-w-[64ch] text-ink-2">{s.nothingAbout}</p>}
      {drafts > 0 && <p className="mt-2 text-ink-2">{s.drafts(drafts)}</p>}
    </>
  );
}

/** How far the documents are compared with what was surveyed, and written; one may look elsewhere meanwhile. */
function Preparing({ sums: { prepared, documents } }: { sums: DeliverySums }) {
  const s = strings.delivery;
  return (
    <div className="mt-3 max-w-[480px]">
      <p role="status" className="text-[15px]">
        {s.comparing}
      </p>
      {documents > 0 && (
        <>
          <p className="text-[14px] text-ink-2">{s.prepared(prepared, documents)}</p>
          <progress className="mt-1 block w-full" max={documents} value={prepared} aria-label={s.comparing} />
        </>
      )}
    </div>
  );
}
