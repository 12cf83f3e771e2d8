'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ZodError } from 'zod';
import { ServiceSettings, type Service } from '@/contract/drafting';
import type { Message } from '@/core/model/message';
import { fetchJson, queries } from '../data/queries';
import { useActs } from '../frame/acts';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';

/** The services that can be asked for drafts, each with what it costs and may cost; keys are entered, and never shown. */
export function Services({ services }: { services: readonly Service[] }) {
  const s = strings.rounds.services;
  const { money } = strings.rounds;
  const { did } = useActs();
  const client = useQueryClient();
  const [editing, setEditing] = useState<Service | 'new' | null>(null);
  const [tests, setTests] = useState<Readonly<Record<number, string>>>({});
  const again = () => client.invalidateQueries({ queryKey: queries.services().queryKey });
  const test = async (service: Service) => {
    const show = (text: string) => setTests((before) => ({ ...before, [service.id]: text }));
    show(s.testing);
    try {
      const answer = await fetchJson<{ text: string; cost: number; ms: number } | { reason: Message }>(
        `/api/drafting-services/${service.id}/test`,
        { method: 'POST' },
      );
      show(
        'reason' in answer
          ? s.doesNot(strings.message(answer.reason))
          : s.works(answer.text, answer.ms, money(answer.cost, service.currency)),
      );
    } catch (error) {
      show(s.doesNot(error instanceof Error ? error.message : strings.failed));
    }
    void again();
  };
  const remove = async (service: Service) => {
    const answer = await fetch(`/api/drafting-services/${service.id}`, { method: 'DELETE' });
    did(answer.ok ? s.removed(service.name) : strings.failed);
    void again();
  };
  return (
    <section className="mt-8" aria-labelledby="drafters">
      <h2 id="drafters" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="mt-2 max-w-[80ch] text-[14px] text-ink-2">{s.about}</p>
      <ul>
        {services.map((service) => (
          <li key={service.id} className="border-b border-hair py-3">
            <p>
              <b>{service.name}</b> <span className="text-ink-2">{s.line(service.model, service.host)}</span>
            </p>
            <p className="text-[14px] text-ink-2">
              {[
                service.hasKey ? s.hasKey : s.noKey,
                s.prices(money(service.priceIn, service.currency), money(service.priceOut, service.currency)),
                s.limits(service.atOnce, service.perMinute),
                s.spent(
                  money(service.spent, service.currency),
                  service.monthlyBudget === null ? null : money(service.monthlyBudget, service.currency),
                ),
              ].join(' · ')}
            </p>
            <p className="mt-1 flex flex-wrap gap-x-5 text-[14.5px]">
              <button type="button" className="link min-h-[24px]" onClick={() => setEditing(service)}>
                {s.edit(service.name)}
              </button>
              <button type="button" className="link min-h-[24px]" onClick={() => void test(service)}>
                {s.test(service.name)}
              </button>
              <button type="button" className="link min-h-[24px]" onClick={() => void remove(service)}>
                {s.remove(service.name)}
              </button>
            </p>
            <p role="status" className="text-[14px] empty:hidden">
              {tests[service.id]}
            </p>
          </li>
        ))}
      </ul>
      <button type="button" className="button quiet mt-3" onClick={() => setEditing('new')}>
        {s.add}
      </button>
      {editing !== null && (
        <ServiceDialog
          service={editing === 'new' ? null : editing}
          saved={(name) => {
            did(s.saved(name));
            void again();
          }}
          close={() => setEditing(null)}
        />
      )}
    </section>
  );
}

const NUMBERS = ['priceIn', 'priceOut', 'maxSide', 'atOnce', 'perMinute', 'timeoutSeconds', 'monthlyBudget'] as const;
const FIELDS = [
  'name',
  'address',
  'model',
  'key',
  'priceIn',
  'priceOut',
  'currency',
  'maxSide',
  'atOnce',
  'perMinute',
  'timeoutSeconds',
  'monthlyBudget',
] as const;
type Field = (typeof FIELDS)[number];

const USUAL: Readonly<Record<Field, string>> = {
  ...{ name: '', address: '', model: '', key: '', priceIn: '0', priceOut: '0', currency: 'EUR' },
  ...{ maxSide: '1024', atOnce: '4', perMinute: '60', timeoutSeconds: '60', monthlyBudget: '' },
};

/** Settings of a service; the dialog stays open until they are right and saved. */
function ServiceDialog({
  service,
  saved,
  close,
}: {
  service: Service | null;
  saved(name: string): void;
  close(): void;
}) {
  const s = strings.rounds.services;
  const [values, setValues] = useState<Record<Field, string>>(() => ({
    ...USUAL,
    ...(service ? Object.fromEntries(FIELDS.flatMap((f) => (f === 'key' ? [] : [[f, String(service[f] ?? '')]]))) : {}),
  }));
  const [error, setError] = useState<string | null>(null);
  const settings = () =>
    ServiceSettings.parse({
      ...values,
      ...Object.fromEntries(NUMBERS.map((f) => [f, values[f] === '' ? null : Number(values[f])])),
      // An empty field keeps the key that is stored.
      key: values.key === '' && service !== null ? undefined : values.key,
    });
  const save = async () => {
    try {
      const body = JSON.stringify(settings());
      const answer = await fetch(service ? `/api/drafting-services/${service.id}` : '/api/drafting-services', {
        method: service ? 'PUT' : 'POST',
        body,
      });
      if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
      saved(values.name);
      close();
    } catch (failure) {
      setError(problemIn(failure));
    }
  };
  const can = values.name !== '' && values.address !== '' && values.model !== '';
  return (
    <Modal
      title={service ? s.editTitle(service.name) : s.addTitle}
      submit={{ label: s.save, can, stays: true, run: () => void save() }}
      close={close}
    >
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        {FIELDS.map((f) => (
          <label key={f} className={f === 'address' || f === 'name' ? 'grid gap-1 sm:col-span-2' : 'grid gap-1'}>
            <span className="text-[14px] text-ink-2">{s.fields[f]}</span>
            <input
              type={f === 'key' ? 'password' : (NUMBERS as readonly string[]).includes(f) ? 'number' : 'text'}
              step="any"
              min="0"
              autoComplete={f === 'key' ? 'new-password' : 'off'}
              value={values[f]}
              onChange={(e) => setValues({ ...values, [f]: e.target.value })}
              placeholder={f === 'key' && service?.hasKey ? s.fields.keyKept : undefined}
              className="field"
            />
          </label>
        ))}
        {error !== null && (
          <p role="alert" className="text-fails sm:col-span-2">
            {error}
          </p>
        )}
      </div>
    </Modal>
  );
}

/** What is wrong with the settings, with the field that it is about. */
function problemIn(failure: unknown): string {
  const { fields } = strings.rounds.services;
  if (!(failure instanceof ZodError)) return failure instanceof Error ? failure.message : strings.failed;
  const issue = failure.issues[0]!;
  const field = fields[issue.path[0] as Field] as string | undefined;
  return field ? `${field}: ${issue.message}` : issue.message;
}
