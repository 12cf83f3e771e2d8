'use client';

import { useState, type ReactNode } from 'react';
import type { BulkPreview, BulkWork } from '@/contract/bulk';
import type { Target } from '@/contract/target';
import { PURPOSES, type Purpose } from '@/core/model/appearance';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';
import { usePreview } from './use-bulk';

/** What is to be done; its details are asked for in the dialog. */
export type BulkKind = Exclude<BulkWork['kind'], 'replace' | 'page-title'>;

interface Props {
  collection: string;
  kind: BulkKind;
  target: Target;
  /** Rules that something was found by, for ignoring. */
  rules: readonly { id: string; title: string }[];
  perform(work: BulkWork): void;
  close(): void;
}

const NAME = 'detto:name';

/** An act on many lines before it is done: its details, what it would do in how many places, and what it leaves out. */
export function BulkDialog({ collection, kind, target, rules, perform, close }: Props) {
  const s = strings.bulk;
  const [text, setText] = useState('');
  const [purpose, setPurpose] = useState<Purpose>('informative');
  const [rule, setRule] = useState(rules[0]?.id ?? '');
  const [reason, setReason] = useState('');
  const [by, setBy] = useState(() => localStorage.getItem(NAME) ?? '');
  const isSigned = kind !== 'ignore' || (reason.trim() !== '' && by.trim() !== '');
  const work = workOf(reason.trim(), by.trim());
  // Where it would be done does not depend on who says so, and why.
  const asked = workOf('…', '…');
  const preview = usePreview(collection, target, asked === null ? null : JSON.stringify(asked));

  function workOf(why: string, who: string): BulkWork | null {
    switch (kind) {
      case 'words':
        return text.trim() === '' ? null : { kind, text: text.trim() };
      case 'purpose':
        return { kind, purpose };
      case 'ignore':
        return rule === '' ? null : { kind, rule, reason: why, by: who };
      default:
        return { kind };
    }
  }
  const isReady = work !== null && preview !== null && preview.places > 0 && isSigned;
  const submit = {
    label: s.act[kind],
    can: isReady,
    run: () => {
      if (kind === 'ignore') localStorage.setItem(NAME, by.trim());
      if (work !== null) perform(work);
    },
  };
  return (
    <Modal title={s.title[kind]} submit={submit} close={close}>
      <div className="mt-3 grid gap-3">
        {kind === 'words' && (
          <Field label={strings.desk.write}>
            <textarea
              autoFocus
              rows={3}
              value={text}
              onChange={(e) => setText(e.target.value)}
              dir="auto"
              className="block w-full resize-y border border-hair-2 bg-sheet p-2 font-heard text-[18px]"
            />
          </Field>
        )}
        {kind === 'purpose' && (
          <Field label={strings.desk.purpose}>
            <select autoFocus value={purpose} onChange={(e) => setPurpose(e.target.value as Purpose)} className="field">
              {PURPOSES.map((p) => (
                <option key={p} value={p}>
                  {strings.desk.purposes[p]}
                </option>
              ))}
            </select>
          </Field>
        )}
        {kind === 'ignore' && (
          <>
            <Field label={strings.galley.rule}>
              <select autoFocus value={rule} onChange={(e) => setRule(e.target.value)} className="field">
                {rules.map((r) => (
                  <option key={r.id} value={r.id}>
                    {r.title}
                  </option>
                ))}
              </select>
            </Field>
            <Field label={strings.notes.reason}>
              <input
                value={reason}
                onChange={(e) => setReason(e.target.value)}
                required
                maxLength={400}
                className="field"
              />
            </Field>
            <Field label={strings.notes.who}>
              <input
                value={by}
                onChange={(e) => setBy(e.target.value)}
                required
                maxLength={80}
                autoComplete="name"
                className="field"
              />
            </Field>
          </>
        )}
        <div role="status" className="min-h-12 text-[14.5px]">
          {work === null ? '' : preview === null ? s.counting : <WhatItDoes preview={preview} kind={kind} />}
        </div>
      </div>
    </Modal>
  );
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="grid gap-1">
      <span className="text-[14px] text-ink-2">{label}</span>
      {children}
    </label>
  );
}

/** In how many places something would change, and what is left out. */
function WhatItDoes({ preview, kind }: { preview: BulkPreview; kind: BulkWork['kind'] }) {
  const s = strings.bulk;
  return (
    <>
      <p>
        <b>
          {preview.places === 0
            ? s.nowhere
            : s.would[kind](strings.places(preview.places), strings.pictures(preview.pictures))}
        </b>{' '}
        {preview.replaced > 0 && kind !== 'replace' && s.replaces(preview.replaced)}
      </p>
      {preview.leftOut.map(({ why, places }) => (
        <p key={why} className="text-ink-2">
          {s.leftOut[why](strings.places(places))}
        </p>
      ))}
    </>
  );
}
