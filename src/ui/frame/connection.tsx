'use client';

import { useEffect, useSyncExternalStore } from 'react';
import { TEXT_FIELDS, type TextField } from '@/core/model/texts';
import type { Target } from '@/contract/target';
import { useConnection } from '../data/data-provider';
import { readBackup, type Backup } from '../desk/autosaver';
import { strings } from '../strings';
import { useActs } from './acts';
import { keepText, keepWords } from './keep';
import { backupsOf, onUnsaved, unsavedCount } from './unsaved';

/** Milliseconds after which nobody is writing a text any more that a window left behind. */
const LEFT_MS = 30_000;

/**
 * Says in words when Detto cannot be reached and what that means for what was written, and sends what an earlier window
 * could not send any more.
 */
export function Connection({ collection }: { collection: string }) {
  const connected = useConnection();
  const unsaved = useSyncExternalStore(onUnsaved, unsavedCount, () => 0);
  const { did, remember } = useActs();
  useEffect(() => {
    if (connected !== true) return;
    const timer = setTimeout(() => void sendLeft(collection, { did, remember }).catch(() => undefined), 1_000);
    return () => clearTimeout(timer);
  }, [connected, collection, did, remember]);
  const s = strings.connection;
  const message = unsaved > 0 ? s.unsaved(unsaved) : connected === false ? s.lost : '';
  return (
    <p role="status" className={message ? 'connection' : 'sr-only'}>
      {message}
    </p>
  );
}

/** Sends the texts that no open Desk looks after; what others have worded since becomes a conflict there. */
async function sendLeft(
  collection: string,
  { did, remember }: Pick<ReturnType<typeof useActs>, 'did' | 'remember'>,
): Promise<void> {
  let sent = 0;
  for (const key of backupsOf(localStorage, collection)) {
    const left = readBackup(localStorage.getItem(key));
    const [at, of] = key.split('/').reverse() as [string, string];
    const picture = Number(of);
    const isOpen = window.location.pathname.endsWith(`/desk/${picture}`);
    if (!left?.places || !picture || isOpen || Date.now() - left.at < LEFT_MS) continue;
    const [field] = at.split('@');
    const parsed = TEXT_FIELDS.find((f) => f === field);
    const href = `/c/${collection}/desk/${picture}`;
    const stands = parsed
      ? await sendField(collection, picture, parsed, left)
      : await sendAltText(collection, picture, left);
    localStorage.removeItem(key);
    if (!stands) {
      did(strings.connection.inHistory(left.text), null, href);
      continue;
    }
    remember({ what: strings.undo.leftText(left.text), act: left.act, href });
    sent++;
  }
  if (sent > 0) did(strings.connection.sent(sent));
}

/** Where others have worded since, it is a conflict, which the Brief and the Desk show. */
async function sendAltText(collection: string, picture: number, left: Backup): Promise<boolean> {
  const target: Target =
    left.places === 'all' ? { kind: 'pictures', pictures: [picture] } : { kind: 'places', places: left.places ?? [] };
  const text = left.text.trim() === '' ? null : left.text.trim();
  const since = left.since === undefined ? {} : { since: left.since };
  await keepWords({ collection, target, text, act: left.act, by: left.by, ...since });
  return true;
}

/** Whether it stands; what others have saved since does otherwise, and this one is in the history. */
async function sendField(collection: string, picture: number, field: TextField, left: Backup): Promise<boolean> {
  const places = left.places === 'all' ? [] : (left.places ?? []);
  const asked = { field, picture, places, text: left.text.trim(), act: left.act, base: left.base };
  return (await keepText({ collection, ...asked })).theirs === null;
}
