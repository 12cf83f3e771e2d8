'use client';

import { useState } from 'react';
import type { BulkWork } from '@/contract/bulk';
import type { Target } from '@/contract/target';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';
import { ChangedText } from './changed-text';
import { usePreview } from './use-bulk';

interface Props {
  collection: string;
  target: Target;
  /** Lines that are selected; 0 for all of the view. */
  selected: number;
  perform(work: BulkWork): void;
  close(): void;
}

/** Find and replace over the texts of a view, every change shown before it is made, each of which can be left out. */
export function ReplaceDialog({ collection, target, selected, perform, close }: Props) {
  const s = strings.replace;
  const [find, setFind] = useState('');
  const [put, setPut] = useState('');
  const [matchCase, setMatchCase] = useState(false);
  const [wholeWords, setWholeWords] = useState(true);
  const [except, setExcept] = useState<ReadonlySet<string>>(new Set());
  const work: BulkWork & { kind: 'replace' } = { kind: 'replace', find, put, matchCase, wholeWords, except: [] };
  const preview = usePreview(collection, target, find === '' ? null : JSON.stringify(work));
  const shown = preview?.changes ?? [];
  const left = shown.filter((c) => except.has(c.before));
  const places = (preview?.places ?? 0) - left.reduce((sum, c) => sum + c.places, 0);
  const toggle = (text: string) => {
    const next = new Set(except);
    if (!next.delete(text)) next.add(text);
    setExcept(next);
  };
  const submit = {
    label: s.act(strings.places(Math.max(0, places))),
    can: preview !== null && places > 0,
    run: () => perform({ ...work, except: left.map((c) => c.before) }),
  };
  return (
    <Modal title={s.title(selected)} wide submit={submit} close={close}>
      <div className="mt-3 grid gap-x-5 gap-y-2 sm:grid-cols-2">
        <label className="grid gap-1 text-[14px] text-ink-2">
          {s.find}
          <input
            autoFocus
            value={find}
            onChange={(e) => setFind(e.target.value)}
            maxLength={500}
            className="field text-[16px] text-ink"
          />
        </label>
        <label className="grid gap-1 text-[14px] text-ink-2">
          {s.put}
          <input
            value={put}
            onChange={(e) => setPut(e.target.value)}
            maxLength={500}
            className="field text-[16px] text-ink"
          />
        </label>
        <label className="flex min-h-6 items-center gap-2 text-[14px]">
          <input type="checkbox" checked={wholeWords} onChange={(e) => setWholeWords(e.target.checked)} />
          {s.wholeWords}
        </label>
        <label className="flex min-h-6 items-center gap-2 text-[14px]">
          <input type="checkbox" checked={matchCase} onChange={(e) => setMatchCase(e.target.checked)} />
          {s.matchCase}
        </label>
      </div>
      <p role="status" className="mt-3 min-h-6 text-[14.5px]">
        {find === '' ? '' : preview === null ? strings.bulk.counting : s.found(preview.texts, strings.places(places))}
      </p>
      {shown.length > 0 && (
        <ul
          aria-label={s.changes}
          tabIndex={0}
          className="mt-1 grid max-h-[320px] gap-2 overflow-y-auto border-y border-hair py-2"
        >
          {shown.map((change) => (
            <li key={change.before} className="grid grid-cols-[24px_minmax(0,1fr)] gap-x-1.5">
              <span className="flex min-h-6 items-center">
                <input
                  type="checkbox"
                  checked={!except.has(change.before)}
                  onChange={() => toggle(change.before)}
                  aria-label={s.change(change.before)}
                />
              </span>
              <ChangedText change={change} />
            </li>
          ))}
        </ul>
      )}
      {preview !== null && preview.texts > shown.length && (
        <p className="mt-1 text-[13.5px] text-ink-2">{s.more(preview.texts - shown.length)}</p>
      )}
    </Modal>
  );
}
