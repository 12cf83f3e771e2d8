'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useState, type ReactNode } from 'react';
import { RoundOrder, WANTED_TEXTS, type RoundEstimate } from '@/contract/drafting';
import type { Target } from '@/contract/target';
import { fetchJson, queries } from '../data/queries';
import { useActs } from '../frame/acts';
import { whatIsWrong } from '../frame/what-is-wrong';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';

interface Props {
  collection: string;
  /** The places that it is for. */
  target: Target;
  close(): void;
}

const EXISTING = ['keep', 'improve', 'replace'] as const;
/** Milliseconds after a change before the estimate is asked for. */
const PAUSE_MS = 250;
/** Which drafter was used last in this browser. */
const LAST = 'detto.drafter';

/** How a round is to go, with what it would do, cost and send before anything is sent. */
export function RoundDialog({ collection, target, close }: Props) {
  const s = strings.rounds.order;
  const { did } = useActs();
  const client = useQueryClient();
  const { data: services = [] } = useQuery(queries.services());
  const [chosen, setChosen] = useState(() => localStorage.getItem(LAST) ?? '');
  const service = services.find((o) => String(o.id) === chosen) ?? null;
  const [existing, setExisting] = useState<RoundOrder['existing']>('keep');
  const [wanted, setWanted] = useState<RoundOrder['wanted']>([]);
  const [without, setWithout] = useState<readonly string[]>([]);
  const [budget, setBudget] = useState('');
  const [consents, setConsents] = useState(false);
  const base = { target, service: service?.id ?? null, existing, wanted };
  const whole = useEstimate(collection, JSON.stringify(RoundOrder.parse(base)));
  const languages = (whole?.estimate?.languages ?? []).filter((l) => !without.includes(l.language ?? ''));
  const order: RoundOrder = RoundOrder.parse({
    ...base,
    languages: without.length > 0 ? languages.flatMap((l) => l.language ?? []) : [],
    budget: budget === '' ? null : Number(budget),
  });
  const answer = useEstimate(collection, JSON.stringify({ ...order, budget: null }));
  const estimate = answer?.estimate ?? null;
  const isReady = estimate !== null && estimate.requests > 0 && (!estimate.needsConsent || consents);
  const start = async () => {
    localStorage.setItem(LAST, chosen);
    try {
      await fetchJson(`/api/collections/${collection}/rounds`, {
        method: 'POST',
        body: JSON.stringify({ order, consents }),
      });
      did(s.started, null, `/c/${collection}/rounds`);
    } catch (error) {
      did((await whatIsWrong()) ?? (error instanceof Error ? error.message : strings.failed));
    } finally {
      void client.invalidateQueries({ queryKey: [collection] });
    }
  };
  return (
    <Modal
      title={s.title}
      about={s.about}
      wide
      submit={{ label: s.submit, can: isReady, run: () => void start() }}
      close={close}
    >
      <div className="mt-3 grid gap-3.5">
        <Group label={s.drafter}>
          {[
            { value: '', label: s.own },
            ...services.map((o) => ({ value: String(o.id), label: s.service(o.name, o.model, o.host) })),
          ].map(({ value, label }) => (
            <label key={value} className="flex min-h-7 items-baseline gap-2">
              <input
                type="radio"
                name="drafter"
                checked={(service === null ? '' : String(service.id)) === value}
                onChange={() => setChosen(value)}
              />
              <span>{label}</span>
            </label>
          ))}
          {services.length === 0 && (
            <Link href={`/c/${collection}/rounds#drafters`} prefetch={false}>
              {s.noService}
            </Link>
          )}
        </Group>
        <div className="grid gap-x-8 gap-y-3 sm:grid-cols-2">
          <Group label={s.existing}>
            {EXISTING.map((value) => (
              <label key={value} className="mr-4 inline-flex min-h-7 items-baseline gap-2">
                <input type="radio" name="existing" checked={existing === value} onChange={() => setExisting(value)} />
                <span>{s.existings[value]}</span>
              </label>
            ))}
          </Group>
          <Group label={s.wanted}>
            {WANTED_TEXTS.map((value) => (
              <label key={value} className="mr-4 inline-flex min-h-7 items-baseline gap-2">
                <input
                  type="checkbox"
                  checked={wanted.includes(value)}
                  onChange={(e) => setWanted(e.target.checked ? [...wanted, value] : wanted.filter((w) => w !== value))}
                />
                <span>{s.wanteds[value]}</span>
              </label>
            ))}
          </Group>
        </div>
        {(whole?.estimate?.languages.length ?? 0) > 1 && (
          <Group label={s.languages}>
            {whole!.estimate!.languages.map(({ language, places }) => (
              <label key={language ?? ''} className="mr-4 inline-flex min-h-7 items-baseline gap-2">
                <input
                  type="checkbox"
                  checked={!without.includes(language ?? '')}
                  onChange={(e) =>
                    setWithout(
                      e.target.checked ? without.filter((w) => w !== (language ?? '')) : [...without, language ?? ''],
                    )
                  }
                />
                <span>
                  {language === null ? s.noLanguage : strings.languageName(language)} ({strings.n(places)})
                </span>
              </label>
            ))}
          </Group>
        )}
        {service && (
          <label className="flex flex-wrap items-baseline gap-2">
            <span className="text-[14px] text-ink-2">{s.budget}</span>
            <input
              type="number"
              min="0"
              step="any"
              value={budget}
              onChange={(e) => setBudget(e.target.value)}
              placeholder={s.noBudget}
              className="field w-28"
            />
            <span>{service.currency}</span>
          </label>
        )}
        <div role="status" className="min-h-[88px] border-t border-hair pt-2.5 text-[14.5px]">
          {answer?.error ? (
            <p className="text-fails">{answer.error}</p>
          ) : estimate ? (
            <Estimate estimate={estimate} />
          ) : (
            s.counting
          )}
        </div>
        {estimate?.sends && (
          <details className="text-[14px]">
            <summary className="min-h-[24px] cursor-pointer text-ink-2">{s.prompt}</summary>
            <pre
              className="mt-1 max-h-52 overflow-auto border border-hair p-2 font-code text-[12.5px] whitespace-pre-wrap"
              tabIndex={0}
            >
              {estimate.sends.prompt}
            </pre>
          </details>
        )}
        {estimate?.needsConsent && estimate.sends && (
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={consents} onChange={(e) => setConsents(e.target.checked)} />
            <span>{s.consent(estimate.sends.host)}</span>
          </label>
        )}
      </div>
    </Modal>
  );
}

function Group({ label, children }: { label: string; children: ReactNode }) {
  return (
    <fieldset>
      <legend className="mb-0.5 text-[14px] text-ink-2">{label}</legend>
      {children}
    </fieldset>
  );
}

/** What a round would do, in sentences. */
function Estimate({ estimate }: { estimate: RoundEstimate }) {
  const s = strings.rounds.order;
  const { money } = strings.rounds;
  const { requests, pictures, places, seconds, cost, leftOut, sends } = estimate;
  return (
    <>
      <p>
        <b>{requests === 0 ? s.nothing : s.estimate(requests, strings.pictures(pictures), strings.places(places))}</b>{' '}
        {requests > 0 && (
          <>
            {s.time(seconds)} {cost ? s.cost(money(cost.from, cost.currency), money(cost.to, cost.currency)) : s.free}
          </>
        )}
      </p>
      {sends && <p>{s.sends(sends.words, sends.width, sends.height, sends.host)}</p>}
      {leftOut.map(({ why, places: out }) => (
        <p key={why} className="text-ink-2">
          {s.leftOut[why](strings.places(out))}
        </p>
      ))}
    </>
  );
}

interface Answer {
  estimate: RoundEstimate | null;
  error: string | null;
}

/** The estimate of an order, given as JSON; null until the server has said it. */
function useEstimate(collection: string, order: string): Answer | null {
  const [answer, setAnswer] = useState<(Answer & { order: string }) | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    const timer = setTimeout(() => {
      fetchJson<RoundEstimate>(`/api/collections/${collection}/rounds/estimate`, {
        method: 'POST',
        body: order,
        signal: stop.signal,
      }).then(
        (estimate) => setAnswer({ order, estimate, error: null }),
        (error: Error) => {
          if (error.name !== 'AbortError') setAnswer({ order, estimate: null, error: error.message });
        },
      );
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [collection, order]);
  return answer?.order === order ? answer : null;
}
