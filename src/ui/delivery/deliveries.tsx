import { useState, type ReactNode } from 'react';
import type { Delivery, Verification } from '@/contract/delivery';
import { Time } from '../primitives/time';
import { whileBusy } from '../primitives/while-busy';
import { strings } from '../strings';
import type { DeliveriesNow } from './use-deliveries';

interface Props {
  deliveries: DeliveriesNow;
  /** Those that are under way or were started on this page, or all others. */
  which: 'under-way' | 'past';
}

/** Deliveries with how far they are, how they ended, and what can still be done with them. */
export function Deliveries({ deliveries, which }: Props): ReactNode {
  const s = strings.delivery;
  const isNear = ({ id, state }: Delivery) => deliveries.own.has(id) || state === 'waiting' || state === 'running';
  const shown = deliveries.all.filter((d) => isNear(d) === (which === 'under-way'));
  const list = shown.map((d) => (
    <li key={d.id} className="border-b border-hair py-3 text-[14px]">
      <DeliveryLine delivery={d} deliveries={deliveries} />
    </li>
  ));
  if (which === 'under-way')
    return (
      <div className="mt-3 max-w-[72ch]">
        <p role="alert" className="text-look empty:hidden">
          {deliveries.error}
        </p>
        <ul aria-live="polite" aria-label={s.underWay}>
          {list}
        </ul>
      </div>
    );
  if (list.length === 0) return null;
  return (
    <section className="mt-8" aria-labelledby="past">
      <h2 id="past" className="rule-below text-[16px] font-bold">
        {s.past}
      </h2>
      <ul className="max-w-[72ch]">{list}</ul>
    </section>
  );
}

/** Documents that are named where they were refused. */
const NAMED = 5;

function DeliveryLine({ delivery, deliveries }: { delivery: Delivery; deliveries: DeliveriesNow }) {
  const s = strings.delivery;
  const [found, setFound] = useState<Verification | null>(null);
  const { state, target, folder, file, refused } = delivery;
  const to = folder === null ? s.targets[target] : s.intoFolder(folder);
  const action = (label: string, run: () => void) => (
    <button type="button" className="link" onClick={run} {...whileBusy(deliveries.isBusy)}>
      {label}
      <span className="sr-only">
        : {to}, <Time at={delivery.at} />
      </span>
    </button>
  );
  const isUnderWay = state === 'waiting' || state === 'running';
  return (
    <>
      <p>
        <span className="text-ink-2">
          <Time at={delivery.at} />:
        </span>{' '}
        {s.stateOf(state, to, delivery.changes, strings.pages(delivery.pages))}
        {delivery.reason !== null && <span className="text-look"> {strings.message(delivery.reason)}</span>}
      </p>
      {isUnderWay && (
        <progress
          className="mt-1 block w-full max-w-[480px]"
          max={1}
          {...(delivery.share === null ? {} : { value: delivery.share })}
          aria-label={s.stateOf(state, to, 0, '')}
        />
      )}
      {refused.count > 0 && (
        <div className="mt-1">
          <p className="text-look">{s.refusedDocuments(refused.count)}</p>
          <ul className="text-ink-2">
            {refused.first.slice(0, NAMED).map((r) => (
              <li key={r.path} className="break-words">
                {r.path}: {strings.message(r.reason)}
              </li>
            ))}
          </ul>
        </div>
      )}
      {found && (
        <p role="status" className="mt-1">
          {s.verified(found.counts['as-written'], found.counts.different, found.counts.gone)}{' '}
          {found.first.slice(0, NAMED).map((f) => (
            <span key={f.address} className="block break-words text-ink-2">
              {f.address}: {s.found[f.found]}
            </span>
          ))}
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-x-4 empty:hidden">
        {file && (
          <a href={deliveries.fileOf(delivery)} download>
            {s.downloadAgain(file.name, strings.weight(file.bytes))}
          </a>
        )}
        {isUnderWay && action(s.stop, () => void deliveries.act(delivery, 'stop'))}
        {(state === 'stopped' || state === 'failed') &&
          action(state === 'stopped' ? s.resume : s.retry, () => void deliveries.act(delivery, 'resume'))}
        {delivery.canVerify && action(s.verify, () => void deliveries.verify(delivery).then(setFound))}
        {delivery.canUndo && action(s.undo, () => void deliveries.act(delivery, 'undo'))}
      </p>
    </>
  );
}
