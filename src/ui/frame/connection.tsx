'use client';

import { useEffect, useSyncExternalStore } from 'react';
import type { Target } from '@/contract/target';
import { useConnection } from '../data/data-provider';
import { readBackup } from '../desk/autosaver';
import { strings } from '../strings';
import { useActs } from './acts';
import { keepWords } from './keep';
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
    const [picture] = key.split('/').slice(-2).map(Number);
    const isOpen = window.location.pathname.endsWith(`/desk/${picture}`);
    if (!left?.places || !picture || isOpen || key.endsWith('/long') || Date.now() - left.at < LEFT_MS) continue;
    const target: Target =
      left.places === 'all' ? { kind: 'pictures', pictures: [picture] } : { kind: 'places', places: left.places };
    const text = left.text.trim() === '' ? null : left.text.trim();
    const since = left.since === undefined ? {} : { since: left.since };
    await keepWords({ collection, target, text, act: left.act, by: left.by, ...since });
    localStorage.removeItem(key);
    const href = `/c/${collection}/desk/${picture}`;
    remember({ what: strings.undo.leftText(left.text), act: left.act, href });
    sent++;
  }
  if (sent > 0) did(strings.connection.sent(sent));
}
