'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { DraftingPlan, Service } from '@/contract/drafting';
import { useActs } from '../frame/acts';
import { strings } from '../strings';

interface Props {
  collection: string;
  plan: DraftingPlan;
  services: readonly Service[];
}

/** Whether pictures that a survey finds first are drafted, by whom and for how much. */
export function NewPictures({ collection, plan: { newPictures }, services }: Props) {
  const s = strings.rounds.fresh;
  const client = useQueryClient();
  const { did } = useActs();
  const service = services.find((o) => o.id === newPictures?.service);
  const [budget, setBudget] = useState(newPictures?.budget === null ? '' : String(newPictures?.budget ?? ''));
  const save = async (plan: DraftingPlan['newPictures']) => {
    const answer = await fetch(`/api/collections/${collection}/drafting`, {
      method: 'PUT',
      body: JSON.stringify({ plan: { newPictures: plan } }),
    });
    did(answer.ok ? s.saved : strings.failed);
    await client.invalidateQueries({ queryKey: [collection, 'drafting'] });
  };
  const chosen = newPictures === null ? 'nobody' : String(newPictures.service ?? 'own');
  return (
    <section className="mt-8" aria-labelledby="fresh">
      <h2 id="fresh" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="mt-2 max-w-[80ch] text-[14px] text-ink-2">{s.about}</p>
      <p className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-2">
        <label className="flex flex-wrap items-baseline gap-2">
          {s.by}
          <select
            value={chosen}
            onChange={(e) => {
              const { value } = e.target;
              void save(
                value === 'nobody'
                  ? null
                  : { service: value === 'own' ? null : Number(value), budget: budget === '' ? null : Number(budget) },
              );
            }}
            className="field"
          >
            <option value="nobody">{s.nobody}</option>
            <option value="own">{strings.rounds.own}</option>
            {services.map((o) => (
              <option key={o.id} value={o.id}>
                {o.name}
              </option>
            ))}
          </select>
        </label>
        {service && (
          <label className="flex flex-wrap items-baseline gap-2">
            {s.budget}
            <input
              type="number"
              min="0"
              step="any"
              value={budget}
              onChange={(e) => setBudget(e.target.value)}
              onBlur={() => void save({ service: service.id, budget: budget === '' ? null : Number(budget) })}
              placeholder={strings.rounds.order.noBudget}
              className="field w-28"
            />
            {service.currency}
          </label>
        )}
      </p>
    </section>
  );
}
