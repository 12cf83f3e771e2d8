import { useState, type ReactNode } from 'react';
import type { DeliverySums, TargetChoice, TargetId } from '@/contract/delivery';
import { isReadByLine } from '@/core/model/document';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import { TargetDialog } from './target-dialog';
import type { DeliveriesNow } from './use-deliveries';

interface Props {
  collection: string;
  sums: DeliverySums;
  targets: readonly TargetChoice[];
  deliveries: DeliveriesNow;
}

/** Where the words can go back to: what has nothing to be set begins at once, the others ask first. */
export function Targets({ collection, sums, targets, deliveries }: Props): ReactNode {
  const s = strings.delivery;
  const [open, setOpen] = useState<TargetId | null>(null);
  const { only } = sums;
  const isOffered: Record<TargetId, boolean> = {
    zip: true,
    document: only !== null && !isReadByLine(only.format),
    diff: sums.changedTexts > 0,
    folder: true,
  };
  const labelOf = (id: TargetId) =>
    id === 'document' ? s.document(only?.file.replace(/^.*\//, '') ?? '') : s.deliverTo[id];
  const chosen = targets.find((t) => t.id === open);
  return (
    <>
      <div className="mt-4 flex flex-wrap gap-3">
        {targets
          .filter((t) => isOffered[t.id])
          .map((t) => (
            <button
              key={t.id}
              type="button"
              className={t.id === 'zip' ? 'button' : 'button quiet'}
              onClick={() => (t.fields.length > 0 ? setOpen(t.id) : void deliveries.start(t.id))}
              {...whileBusy(deliveries.isBusy)}
            >
              {labelOf(t.id)}
            </button>
          ))}
      </div>
      <p className="mt-3 max-w-[72ch] text-[14px] text-ink-2">{s.zipAbout}</p>
      {chosen && (
        <TargetDialog collection={collection} target={chosen} deliveries={deliveries} close={() => setOpen(null)} />
      )}
    </>
  );
}
