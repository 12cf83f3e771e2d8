'use client';

import { useState } from 'react';
import type { BulkState } from '@/contract/bulk';
import { LIST_ENCODINGS, type ListChange, type ListPreview } from '@/contract/lists';
import { fetchJson } from '../data/queries';
import { Modal } from '../primitives/modal';
import { strings } from '../strings';
import { useBulk } from './use-bulk';

interface Props {
  collection: string;
  close(): void;
}

/** A list that was edited elsewhere: what it would change, what cannot be matched, and where both sides have changed. */
export function UploadDialog({ collection, close }: Props) {
  const s = strings.lists;
  const [file, setFile] = useState<File | null>(null);
  const [preview, setPreview] = useState<ListPreview | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [taken, setTaken] = useState<ReadonlySet<number>>(new Set());
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [asDrafts, setAsDrafts] = useState(false);
  const [encoding, setEncoding] = useState<string | null>(null);
  const [fromAlt, setFromAlt] = useState(false);
  const { follow } = useBulk(collection);
  const send = <T,>(query: string, of: File): Promise<T> =>
    fetchJson<T>(`/api/collections/${collection}/list${query}`, { method: 'POST', body: of });
  /** How the file is to be read, as far as a person has said it. */
  const reading = (as: { encoding: string | null; fromAlt: boolean }) => ({
    ...(as.encoding ? { encoding: as.encoding } : {}),
    ...(as.fromAlt ? { column: 'alt' } : {}),
  });
  const read = async (chosen: File | null | undefined, as: { encoding: string | null; fromAlt: boolean }) => {
    if (!chosen) return;
    setFile(chosen);
    setEncoding(as.encoding);
    setFromAlt(as.fromAlt);
    setPreview(null);
    setError(null);
    setTaken(new Set());
    setLeft(new Set());
    const query = new URLSearchParams(reading(as));
    await send<ListPreview>(`?${query}`, chosen).then(setPreview, (e: Error) => setError(e.message));
  };
  const toggle = (set: ReadonlySet<number>, put: (next: Set<number>) => void, row: number) => {
    const next = new Set(set);
    if (!next.delete(row)) next.add(row);
    put(next);
  };
  const count = preview === null ? 0 : preview.total - left.size + taken.size;
  const save = () => {
    if (!file) return;
    void follow({ what: s.what, done: (places) => (asDrafts ? s.drafted : s.done)(strings.places(places)) }, (act) => {
      const query = new URLSearchParams({
        ...{ act, take: [...taken].join(), leave: [...left].join() },
        ...(asDrafts ? { drafts: file.name.slice(0, 80) } : {}),
        ...reading({ encoding, fromAlt }),
      });
      return send<BulkState>(`?${query}`, file);
    });
  };
  const submit = { label: (asDrafts ? s.actDrafts : s.act)(Math.max(0, count)), can: count > 0, run: save };
  return (
    <Modal title={s.title} about={s.about} wide submit={submit} close={close}>
      <label className="mt-3 grid gap-1 text-[14px] text-ink-2">
        {s.file}
        <input
          type="file"
          accept=".csv,.xlsx,.json,text/csv,application/json"
          onChange={(e) => void read(e.target.files?.[0], { encoding: null, fromAlt: false })}
        />
      </label>
      <label className="mt-3 flex min-h-7 items-baseline gap-2 text-[14.5px]">
        <input type="checkbox" checked={asDrafts} onChange={(e) => setAsDrafts(e.target.checked)} />
        {s.asDrafts}
      </label>
      {(preview?.encoding ?? encoding) && (
        <label className="mt-3 grid gap-1 text-[14px] text-ink-2">
          {s.encoding}
          <select
            className="field w-fit text-ink"
            value={encoding ?? preview?.encoding ?? ''}
            onChange={(e) => void read(file, { encoding: e.target.value, fromAlt })}
          >
            {[...new Set([...LIST_ENCODINGS, ...(preview?.encoding ? [preview.encoding] : [])])].map((name) => (
              <option key={name} value={name}>
                {s.encodings[name] ?? name}
              </option>
            ))}
          </select>
          <span>{s.encodingAbout}</span>
        </label>
      )}
      {preview && (preview.editedInAlt > 0 || fromAlt) && (
        <div className="mt-3 text-[14.5px]">
          {preview.editedInAlt > 0 && <p className="text-look">{s.editedInAlt(preview.editedInAlt)}</p>}
          <label className="flex min-h-7 items-baseline gap-2">
            <input
              type="checkbox"
              checked={fromAlt}
              onChange={(e) => void read(file, { encoding, fromAlt: e.target.checked })}
            />
            {s.useAlt}
          </label>
        </div>
      )}
      <div role="status" className="mt-3 min-h-6 text-[14.5px]">
        {file && !preview && !error && s.reading}
        {preview &&
          (preview.total + preview.conflicts === 0 ? s.nothing : s.found(preview.total, preview.places, preview.same))}
        {preview && preview.conflicts > 0 && ` ${s.conflicts(preview.conflicts)}`}
      </div>
      {error && (
        <p role="alert" className="text-fails">
          {error}
        </p>
      )}
      {preview && preview.changes.length > 0 && (
        <ul
          aria-label={strings.replace.changes}
          tabIndex={0}
          className="mt-1 grid max-h-[300px] gap-2 overflow-y-auto border-y border-hair py-2"
        >
          {preview.changes.map((c) => (
            <li key={c.row} className="grid grid-cols-[24px_minmax(0,1fr)] gap-x-1.5">
              <span className="flex min-h-6 items-center">
                <input
                  type="checkbox"
                  checked={c.madeWith === null ? !left.has(c.row) : taken.has(c.row)}
                  onChange={() => (c.madeWith === null ? toggle(left, setLeft, c.row) : toggle(taken, setTaken, c.row))}
                  aria-label={strings.replace.change(c.after || strings.decorativeHere)}
                />
              </span>
              <Change change={c} />
            </li>
          ))}
        </ul>
      )}
      {preview && preview.total + preview.conflicts > preview.changes.length && (
        <p className="mt-1 text-[13.5px] text-ink-2">
          {s.more(preview.total + preview.conflicts - preview.changes.length)}
        </p>
      )}
      {preview && preview.unknownTotal > 0 && (
        <details className="mt-2 text-[14px]">
          <summary className="min-h-6 cursor-pointer text-look">{s.unknown(preview.unknownTotal)}</summary>
          <ul className="mt-1 max-h-[160px] overflow-y-auto text-ink-2" tabIndex={0}>
            {preview.unknown.map((u) => (
              <li key={u.row}>
                {s.row(u.row)}: {s.why[u.why]}
              </li>
            ))}
          </ul>
        </details>
      )}
    </Modal>
  );
}

function Change({ change }: { change: ListChange }) {
  const { row, picture, page, before, after, madeWith, places, others } = change;
  const s = strings.lists;
  const text = (words: string | null) =>
    words === null ? strings.nothingSaid : words === '' ? strings.decorativeHere : words;
  return (
    <div className="min-w-0">
      <p className="changed-text">
        <del>{text(before)}</del> <ins>{text(after)}</ins>
      </p>
      {madeWith !== null && (
        <p className="text-[13px] text-look">
          {s.inList}: {text(madeWith === '' ? null : madeWith)} · {s.now}: {text(before)}
        </p>
      )}
      <p className="text-[13px] break-words text-ink-2">
        {s.row(row)}, {picture.split('/').pop()}, {places > 1 ? s.places(places) : page}
      </p>
      {others.length > 0 && (
        <p className="text-[13px] break-words text-ink-2">
          {s.others(others.map((o) => s.other(o.text ? `“${o.text}”` : text(o.text), o.places)).join(', '))}
        </p>
      )}
    </div>
  );
}
