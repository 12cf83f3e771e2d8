'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { EVERYTHING, GalleyView, type SavedView } from '@/contract/galley';
import { fetchJson, queries } from '../data/queries';
import { useActs } from '../frame/acts';
import { Choice } from '../primitives/choice';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';
import { asQuery } from './address';

/** Views that everybody needs, ready to be shown. */
export const READY = {
  missing: { state: 'missing' },
  over: { rule: 'overlong', sort: 'length' },
  heavy: { weight: 'over-100k', sort: 'weight' },
  decorative: { state: 'todo', purpose: 'decorative' },
  stuffed: { rule: 'stuffed' },
  same: { rule: 'same-words' },
  used: { sort: 'reach' },
  new: { since: 'new' },
} as const satisfies Record<string, Partial<GalleyView>>;
type Ready = keyof typeof READY;

interface Props {
  collection: string;
  view: GalleyView;
  show(changed: Partial<GalleyView>): void;
}

/** The ready views and those that were saved under a name, and the way to save one more. */
export function Views({ collection, view, show }: Props) {
  const s = strings.views;
  const client = useQueryClient();
  const { did } = useActs();
  const [open, setOpen] = useState(false);
  const [asking, setAsking] = useState(false);
  const { data: saved = [] } = useQuery({ ...queries.views(collection), enabled: open || asking });
  const query = String(asQuery(view));
  const ready = (Object.keys(READY) as Ready[]).find((r) => String(asQuery(READY[r])) === query);
  const named = saved.find((v) => v.query === query);
  const refresh = () => client.invalidateQueries(queries.views(collection));
  const choose = (value: string) => {
    if (value === 'save') return setAsking(true);
    if (value.startsWith('delete ')) {
      const gone = saved.find((v) => `delete ${v.id}` === value)!;
      return void fetch(`/api/collections/${collection}/views/${gone.id}`, { method: 'DELETE' }).then(() => {
        did(s.deleted(gone.name));
        return refresh();
      });
    }
    const chosen = saved.find((v) => `saved ${v.id}` === value);
    const to = chosen ? Object.fromEntries(new URLSearchParams(chosen.query)) : READY[value as Ready];
    show(GalleyView.parse({ ...EVERYTHING, ...to }));
  };
  return (
    <span>
      {s.view}{' '}
      <Choice
        label={s.view}
        value={ready ?? (named ? `saved ${named.id}` : '')}
        onOpen={setOpen}
        options={[
          ...(Object.keys(READY) as Ready[]).map((value) => ({ value, label: s.ready[value], group: s.readyViews })),
          ...saved.map((v) => ({ value: `saved ${v.id}`, label: v.name, group: s.savedViews })),
          { value: 'save', label: s.save, group: s.thisView },
          ...(named ? [{ value: `delete ${named.id}`, label: s.delete(named.name), group: s.thisView }] : []),
        ]}
        onChange={choose}
      >
        {ready ? s.ready[ready] : (named?.name ?? s.own)}
      </Choice>
      {asking && (
        <SaveView
          close={() => setAsking(false)}
          names={saved.map((v) => v.name)}
          save={async (name) => {
            await fetchJson<SavedView>(`/api/collections/${collection}/views`, {
              method: 'POST',
              body: JSON.stringify({ name, query }),
            });
            did(s.saved(name));
            await refresh();
          }}
        />
      )}
    </span>
  );
}

function SaveView({
  names,
  save,
  close,
}: {
  names: readonly string[];
  save(name: string): Promise<void>;
  close(): void;
}) {
  const s = strings.views;
  const [name, setName] = useState('');
  const submit = { label: strings.galley.keep, can: name.trim() !== '', run: () => void save(name.trim()) };
  return (
    <Modal title={s.saveTitle} submit={submit} close={close}>
      <label className="mt-3 grid gap-1 text-[14px] text-ink-2">
        {s.name}
        <input
          autoFocus
          required
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
          className="field text-[16px] text-ink"
        />
      </label>
      <p role="status" className="mt-1 min-h-6 text-[13.5px] text-ink-2">
        {names.includes(name.trim()) ? s.replaces(name.trim()) : ''}
      </p>
    </Modal>
  );
}
