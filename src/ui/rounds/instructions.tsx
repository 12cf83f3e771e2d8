'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Service } from '@/contract/drafting';
import type { Message } from '@/core/model/message';
import { fetchJson, type DraftingSettings } from '../data/queries';
import { useActs } from '../frame/acts';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';

interface Props {
  collection: string;
  settings: DraftingSettings;
  services: readonly Service[];
}

type Tried = { text: string | null } | { reason: Message };
interface TrialRow {
  picture: number;
  name: string | Message;
  thumb: string | null;
  now: Tried;
  then: Tried;
}

/** The instructions for models in this collection, tried on five pictures before it is saved. */
export function Instructions({ collection, settings, services }: Props) {
  const s = strings.rounds.prompt;
  const client = useQueryClient();
  const { did } = useActs();
  const { instructions, version } = settings.instructions;
  const [text, setText] = useState(instructions);
  const [service, setService] = useState(services[0]?.id ?? 0);
  const [trial, setTrial] = useState<TrialRow[] | 'running' | string | null>(null);
  const save = async () => {
    try {
      const answer = await fetch(`/api/collections/${collection}/drafting`, {
        method: 'PUT',
        body: JSON.stringify({ instructions: text }),
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
      did(s.saved(version + 1));
      await client.invalidateQueries({ queryKey: [collection, 'drafting'] });
    } catch (error) {
      did(error instanceof Error ? error.message : strings.failed);
    }
  };
  const tryIt = async () => {
    setTrial('running');
    try {
      setTrial(
        await fetchJson<TrialRow[]>(`/api/collections/${collection}/drafting/trial`, {
          method: 'POST',
          body: JSON.stringify({ service, instructions: text }),
        }),
      );
    } catch (error) {
      setTrial(error instanceof Error ? error.message : strings.failed);
    }
  };
  return (
    <section className="mt-8" aria-labelledby="instructions">
      <h2 id="instructions" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="mt-2 max-w-[80ch] text-[14px] text-ink-2">
        {s.about} <b className="text-ink">{s.version(version)}.</b>
      </p>
      <textarea
        aria-label={s.label}
        rows={6}
        maxLength={4_000}
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="mt-2 block w-full resize-y border border-hair-2 bg-sheet p-2.5 text-[15px] leading-normal"
      />
      <p className="mt-2 flex flex-wrap items-baseline gap-x-5 gap-y-2">
        <button
          type="button"
          className="button"
          disabled={text.trim() === '' || text === instructions}
          onClick={() => void save()}
        >
          {s.save}
        </button>
        {text !== settings.usual && (
          <button type="button" className="link min-h-[24px]" onClick={() => setText(settings.usual)}>
            {s.usual}
          </button>
        )}
        {services.length > 0 && (
          <span className="flex flex-wrap items-baseline gap-2">
            <button type="button" className="button quiet" disabled={trial === 'running'} onClick={() => void tryIt()}>
              {s.trial}
            </button>
            {services.length > 1 && (
              <select
                aria-label={strings.rounds.order.drafter}
                value={service}
                onChange={(e) => setService(Number(e.target.value))}
                className="field"
              >
                {services.map((o) => (
                  <option key={o.id} value={o.id}>
                    {o.name}
                  </option>
                ))}
              </select>
            )}
          </span>
        )}
      </p>
      {services.length > 0 && <p className="mt-1.5 text-[13px] text-ink-2">{s.trialAbout}</p>}
      <div role="status" className="mt-2">
        {trial === 'running' ? (
          s.trying
        ) : typeof trial === 'string' ? (
          <span className="text-fails">{trial}</span>
        ) : null}
      </div>
      {Array.isArray(trial) && <Trial rows={trial} />}
      {settings.history.length > 1 && (
        <details className="mt-3 text-[14px]">
          <summary className="min-h-[24px] cursor-pointer text-ink-2">{s.history}</summary>
          {settings.history
            .filter((h) => h.version !== version)
            .map((h) => (
              <p key={h.version} className="mt-2 max-w-[80ch] whitespace-pre-wrap">
                {h.instructions}{' '}
                <button type="button" className="link" onClick={() => setText(h.instructions)}>
                  {s.bring(h.version)}
                </button>
              </p>
            ))}
        </details>
      )}
    </section>
  );
}

/** Drafts of the same pictures side by side. */
function Trial({ rows }: { rows: readonly TrialRow[] }) {
  const s = strings.rounds.prompt;
  const said = (tried: Tried) =>
    'reason' in tried ? (
      <span className="text-fails">{strings.message(tried.reason)}</span>
    ) : tried.text === null ? (
      <i className="text-ink-2">{s.nothing}</i>
    ) : (
      <Heard text={tried.text} lang={null} />
    );
  return (
    <table className="mt-2 w-full text-left text-[15px]">
      <thead className="text-[13px] text-ink-2">
        <tr>
          <th scope="col" className="w-24 py-1 font-normal">
            <span className="sr-only">{strings.galley.title}</span>
          </th>
          <th scope="col" className="py-1 pr-6 font-normal">
            {s.now}
          </th>
          <th scope="col" className="py-1 font-normal">
            {s.then}
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.picture} className="border-t border-hair align-top">
            <th scope="row" className="py-2 pr-3 font-normal">
              {row.thumb ? (
                <img src={row.thumb} alt={strings.pictureName(row.name)} className="plate h-14 w-20" />
              ) : (
                strings.pictureName(row.name)
              )}
            </th>
            <td className="py-2 pr-6">{said(row.now)}</td>
            <td className="py-2">{said(row.then)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
