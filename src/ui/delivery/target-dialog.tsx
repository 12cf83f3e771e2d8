import { useCallback, useEffect, useState } from 'react';
import type { DeliveryPlan, TargetChoice } from '@/contract/delivery';
import { fetchJson } from '../data/queries';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';
import { FieldView } from '../style/fields';
import type { DeliveriesNow } from './use-deliveries';

interface Props {
  collection: string;
  target: TargetChoice;
  deliveries: DeliveriesNow;
  close(): void;
}

/** Milliseconds after the last key before it is looked at what would happen. */
const PAUSE_MS = 400;
/** Documents that are named where they would be refused. */
const NAMED = 5;

type Looked = { plan: DeliveryPlan } | { error: string };

/** Asks for what a target has to know, and says what it would do before it does anything. */
export function TargetDialog({ collection, target, deliveries, close }: Props) {
  const s = strings.delivery;
  const [configuration, setConfiguration] = useState(target.configuration);
  const isFilled = target.fields.every((f) => configuration[f.name] !== '');
  const looked = usePlan(collection, target.id, isFilled ? configuration : null);
  const plan = looked && 'plan' in looked ? looked.plan : null;
  return (
    <Modal
      title={s.targetTitle[target.id] ?? s.deliverTo[target.id]}
      about={s.targetAbout[target.id]}
      submit={{
        label: plan && plan.writes > 0 ? s.write(plan.writes) : s.writeFiles,
        can: plan !== null && plan.writes > 0,
        run: () => void deliveries.start(target.id, configuration),
      }}
      close={close}
    >
      {target.fields.map((field) => (
        <div key={field.name} className="mt-3 grid gap-1">
          <span aria-hidden className="text-[14px] font-semibold">
            {strings.fieldWords(target.id, field).label}
          </span>
          <FieldView
            rule={target.id}
            field={field}
            isWide
            value={configuration[field.name]}
            change={(value) => setConfiguration({ ...configuration, [field.name]: value })}
          />
        </div>
      ))}
      <div role="status" className="mt-3 min-h-[3em] text-[14.5px]">
        {isFilled && looked === null && <p className="text-ink-2">{s.looking}</p>}
        {looked && 'error' in looked && <p className="text-look">{looked.error}</p>}
        {plan && (
          <>
            <p>{s.plan(plan.writes, plan.creates)}</p>
            {plan.refused.count > 0 && (
              <>
                <p className="text-look">{s.refusedDocuments(plan.refused.count)}</p>
                <ul className="text-ink-2">
                  {plan.refused.first.slice(0, NAMED).map((r) => (
                    <li key={r.path} className="break-words">
                      {r.path}: {strings.message(r.reason)}
                    </li>
                  ))}
                </ul>
              </>
            )}
          </>
        )}
      </div>
    </Modal>
  );
}

/** What a target would do with a configuration; null until that is known. */
function usePlan(collection: string, target: string, configuration: Record<string, unknown> | null): Looked | null {
  const [looked, setLooked] = useState<{ of: unknown; is: Looked } | null>(null);
  const look = useCallback(
    (signal: AbortSignal) =>
      fetchJson<DeliveryPlan>(`/api/collections/${collection}/deliveries/plan`, {
        method: 'POST',
        body: JSON.stringify({ target, configuration }),
        signal,
      }).then(
        (plan) => setLooked({ of: configuration, is: { plan } }),
        (error: Error) => {
          if (error.name !== 'AbortError') setLooked({ of: configuration, is: { error: error.message } });
        },
      ),
    [collection, target, configuration],
  );
  useEffect(() => {
    if (configuration === null) return;
    const ended = new AbortController();
    const timer = setTimeout(() => void look(ended.signal), PAUSE_MS);
    return () => {
      clearTimeout(timer);
      ended.abort();
    };
  }, [configuration, look]);
  return looked && looked.of === configuration ? looked.is : null;
}
