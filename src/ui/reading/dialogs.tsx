'use client';

import { useState } from 'react';
import { REJECT_REASONS, type DraftItem, type ReadingView, type RejectReason, type Service } from '@/contract/drafting';
import { hasGaps } from '@/core/draft/draft';
import { fetchJson } from '../data/queries';
import { useActs } from '../frame/acts';
import { Heard } from '../primitives/heard';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';

/** Why a draft is rejected: one number key, or Enter for no reason. */
export function RejectDialog({ reject, close }: { reject(reason: RejectReason | null): void; close(): void }) {
  const s = strings.reading;
  const [reason, setReason] = useState<RejectReason | null>(null);
  const finish = (chosen: RejectReason | null) => {
    close();
    reject(chosen);
  };
  return (
    <Modal
      title={s.rejectTitle}
      about={s.rejectAbout}
      submit={{ label: s.rejectTitle, can: true, run: () => reject(reason) }}
      close={close}
    >
      <fieldset
        className="mt-3"
        onKeyDown={(e) => {
          const chosen = REJECT_REASONS[Number(e.key) - 1];
          if (!chosen) return;
          e.preventDefault();
          finish(chosen);
        }}
      >
        <legend className="sr-only">{strings.notes.reason}</legend>
        {REJECT_REASONS.map((value, i) => (
          <label key={value} className="flex min-h-7 items-baseline gap-2.5">
            <input
              type="radio"
              name="reason"
              autoFocus={i === 0}
              checked={reason === value}
              onChange={() => setReason(value)}
            />
            <kbd>{i + 1}</kbd>
            <span>{strings.rounds.reasons[value]}</span>
          </label>
        ))}
      </fieldset>
    </Modal>
  );
}

interface AgainProps {
  services: readonly Service[];
  /** Name of the service that made the draft; null for the evidence drafter. */
  last: string | null;
  ask(service: number | null, hint: string): void;
  close(): void;
}

/** Asks for another draft, with what it should do differently. */
export function AgainDialog({ services, last, ask, close }: AgainProps) {
  const s = strings.reading;
  const [hint, setHint] = useState('');
  const [service, setService] = useState(services.find((o) => o.name === last)?.id ?? services[0]?.id ?? null);
  return (
    <Modal
      title={s.againTitle}
      submit={{ label: s.againSubmit, can: service !== null, run: () => ask(service, hint) }}
      close={close}
    >
      {service === null ? (
        <p className="mt-3">{s.noService}</p>
      ) : (
        <div className="mt-3 grid gap-3">
          <label className="grid gap-1">
            <span className="text-[14px] text-ink-2">{s.againHint}</span>
            <input autoFocus value={hint} maxLength={400} onChange={(e) => setHint(e.target.value)} className="field" />
          </label>
          {services.length > 1 && (
            <label className="grid gap-1">
              <span className="text-[14px] text-ink-2">{s.againService}</span>
              <select value={service} onChange={(e) => setService(Number(e.target.value))} className="field">
                {services.map((o) => (
                  <option key={o.id} value={o.id}>
                    {o.name}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
      )}
    </Modal>
  );
}

/** Drafts that have to be read before the others can be accepted together. */
const SAMPLE = 5;

interface CleanProps {
  collection: string;
  view: ReadingView;
  count: number;
  /** How many were decided about so far. */
  read: number;
  by: string | null;
  done(): unknown;
  close(): void;
}

/** Accepts what nothing was found in, once a sample was read. */
export function CleanDialog({ collection, view, count, read, by, done, close }: CleanProps) {
  const s = strings.reading;
  const { did } = useActs();
  const missing = Math.max(0, SAMPLE - read);
  const accept = async () => {
    const act = crypto.randomUUID();
    try {
      const { places } = await fetchJson<{ places: number }>(`/api/collections/${collection}/drafts/clean`, {
        method: 'POST',
        body: JSON.stringify({ view, by, act }),
      });
      did(s.cleanDone(strings.places(places)), { what: s.cleanWhat, act });
    } catch (error) {
      did(error instanceof Error && error.message ? error.message : strings.failed);
    } finally {
      done();
    }
  };
  return (
    <Modal
      title={s.cleanTitle(count)}
      about={s.cleanAbout}
      submit={{ label: s.cleanTitle(count), can: missing === 0, run: () => void accept() }}
      close={close}
    >
      {missing > 0 && <p className="mt-3 text-look">{s.cleanSample(missing)}</p>}
    </Modal>
  );
}

interface AlikeProps {
  items: readonly DraftItem[];
  lang: string | null;
  accept(items: DraftItem[]): void;
  close(): void;
}

/** Drafts of look-alikes, every text shown, decided together. */
export function AlikeDialog({ items, lang, accept, close }: AlikeProps) {
  const s = strings.reading;
  const can = items.filter((i) => !hasGaps(i.text));
  const [left, setLeft] = useState<readonly number[]>([]);
  const chosen = can.filter((i) => !left.includes(i.id));
  return (
    <Modal
      title={s.alikeTitle}
      about={s.alikeAbout}
      wide
      submit={{ label: s.alikeAccept(chosen.length), can: chosen.length > 0, run: () => accept(chosen) }}
      close={close}
    >
      <ul className="mt-3">
        {items.map((i) => (
          <li key={i.id} className="border-t border-hair py-2">
            <label className="flex items-center gap-3">
              <input
                type="checkbox"
                disabled={!can.includes(i)}
                checked={chosen.includes(i)}
                onChange={(e) => setLeft(e.target.checked ? left.filter((id) => id !== i.id) : [...left, i.id])}
              />
              {i.thumb && <img src={i.thumb} alt="" className="plate h-12 w-16 shrink-0" />}
              <span className="text-[17px]">{i.text === '' ? s.decorative : <Heard text={i.text} lang={lang} />}</span>
            </label>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
