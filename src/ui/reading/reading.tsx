'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import {
  READING_ORDERS,
  type DraftItem,
  type DraftPage,
  type ReadingList,
  type ReadingView,
  type RejectReason,
  type Service,
} from '@/contract/drafting';
import { hasGaps } from '@/core/draft/draft';
import { heardAs, speak } from '../desk/speech';
import { fetchJson } from '../data/queries';
import { useActs } from '../frame/acts';
import { useCommands } from '../keys/use-commands';
import { Choice } from '../primitives/choice';
import { strings } from '../strings';
import { AgainDialog, AlikeDialog, CleanDialog, RejectDialog } from './dialogs';
import { DraftSheet } from './draft-sheet';
import { PictureSheet } from './picture-sheet';
import { address, useReading } from './use-reading';

interface Props {
  collection: string;
  view: ReadingView;
  opened: { list: ReadingList; first: DraftPage | null; services: Service[] };
}

const NAME = 'detto:name';
/** Drafts of which the strip shows the pictures. */
const STRIP = 7;

/** Drafts read one after the other: each accepted, edited, rejected, asked for again or marked decorative by one key. */
export function Reading({ collection, view, opened }: Props) {
  const s = strings.reading;
  const router = useRouter();
  const { did, remember, say } = useActs();
  const { list, items, at, item, draft, show, step, decide, refresh } = useReading(collection, view, opened);
  const [dialog, setDialog] = useState<'reject' | 'again' | 'clean' | 'alike' | null>(null);
  const [isPageShown, setPageShown] = useState(false);
  const [isAsking, setAsking] = useState(false);
  const sheet = useRef<HTMLElement>(null);
  const name = draft ? strings.pictureName(draft.picture.name) : '';
  const by = () => localStorage.getItem(NAME);

  // What is decided next has the focus, and is said.
  const shown = draft?.id ?? null;
  // What is written belongs to its draft.
  const [written, setWritten] = useState<{ id: number; text: string } | null>(null);
  const editing = written !== null && written.id === shown ? written.text : null;
  const setEditing = (text: string | null) => setWritten(text === null || shown === null ? null : { id: shown, text });
  const first = useRef(true);
  useEffect(() => {
    if (shown === null || !draft) return;
    if (first.current) first.current = false;
    else say(s.announce(at + 1, items.length, name, draft.text === '' ? s.decorative : draft.text));
    sheet.current?.focus({ preventScroll: true });
    window.history.replaceState(null, '', withDraft(address(collection, view), shown));
    // Once for each draft, whatever else of it changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown]);

  const accept = () => {
    if (!item || !draft) return;
    if (hasGaps(draft.text)) {
      setEditing(draft.text);
      say(s.gaps);
      return;
    }
    decide([item], { kind: 'accept', by: by() }, s.acts.accept(name));
  };
  const save = (text: string) => {
    if (!item || hasGaps(text) || text.trim() === '') return say(s.gaps);
    setEditing(null);
    decide([item], { kind: 'accept', text: text.trim(), by: by() }, s.acts.edit(name));
  };
  const reject = (reason: RejectReason | null) => {
    if (item) decide([item], { kind: 'reject', reason }, s.acts.reject(name));
  };
  const decorative = () => {
    if (item) decide([item], { kind: 'decorative', by: by() }, s.acts.decorative(name));
  };
  const again = async (service: number | null, hint: string) => {
    if (!draft) return;
    const act = crypto.randomUUID();
    setAsking(true);
    try {
      const { drafted } = await fetchJson<{ drafted: boolean }>(
        `/api/collections/${collection}/drafts/${draft.id}/again`,
        { method: 'POST', body: JSON.stringify({ service, hint: hint.trim() || null, act }) },
      );
      if (drafted) remember({ what: s.acts.again(name), act, href: address(collection, view) });
      did(drafted ? s.newDraft : s.noDraft);
    } catch (error) {
      did(s.refused(name, error instanceof Error && error.message ? error.message : strings.failed));
    } finally {
      setAsking(false);
      void refresh();
    }
  };
  /** A key that a control has, or a field, is not one of the reading. */
  const isFree = (event: KeyboardEvent) =>
    editing === null && !(event.target as HTMLElement).closest?.('button, a, summary, input, select, textarea, iframe');
  useCommands({
    'reading.accept': (e) => (isFree(e) && draft ? accept() : false),
    'reading.edit': () => (draft && editing === null ? setEditing(draft.text) : false),
    'reading.reject': (e) => (isFree(e) && draft ? setDialog('reject') : false),
    'reading.again': () => (draft && editing === null ? setDialog('again') : false),
    'reading.page': () => (draft ? setPageShown(!isPageShown) : false),
    'reading.skip': (e) => (isFree(e) ? void step(1) : false),
    'reading.back': (e) => (isFree(e) ? void step(-1) : false),
    'text.decorative': () => (draft && editing === null ? decorative() : false),
    'text.hear': () => {
      if (!draft) return false;
      if (!speak(draft.text === '' ? strings.desk.decorative : heardAs(null, draft.text), draft.lang))
        did(strings.desk.noSpeech);
    },
  });

  const { accepted, edited, rejected, decorative: marked } = list.decided;
  const alike = (draft?.alike ?? []).filter((i) => items.some((o) => o.id === i.id));
  return (
    <div className="flex min-h-dvh flex-col bg-sheet" data-focus-home="[data-reading], main a.button">
      {/* What goes from the bar with what it was for, such as its last button, leaves the focus to the draft. */}
      <header className="bar bg-paper" data-focus-home="[data-reading]">
        <h1 className="text-[15px] text-ink">
          {items.length === 0 ? (
            <b>{s.done}</b>
          ) : (
            <>
              <b>{s.position(at + 1, items.length)}</b>{' '}
              <span className="text-ink-2">{view.round === null ? s.inAll : s.inRound(view.round)}, </span>
            </>
          )}
        </h1>
        <Choice
          label={s.order}
          value={view.order}
          options={READING_ORDERS.map((value) => ({ value, label: s.orders[value] }))}
          onChange={(order) => router.push(address(collection, { ...view, order: order as ReadingView['order'] }))}
          className="pick quiet -ml-3"
        >
          {s.orders[view.order]}
        </Choice>
        <span>{s.decided(accepted, edited, rejected, marked)}</span>
        {list.clean > 0 && items.length > 0 && (
          <button type="button" className="button quiet sm:ml-auto" onClick={() => setDialog('clean')}>
            {s.clean(list.clean)}
          </button>
        )}
      </header>
      {item === null ? (
        <section className="px-7 py-8">
          <p className="text-[20px]">{s.done}</p>
          <p className="mt-1 text-ink-2">{s.doneAbout}</p>
          <p className="mt-4 flex flex-wrap gap-3">
            <Link href={`/c/${collection}/delivery`} className="button no-underline">
              {s.toDelivery}
            </Link>
            <Link href={`/c/${collection}/rounds`} className="button quiet no-underline">
              {s.toRounds}
            </Link>
          </p>
        </section>
      ) : (
        <div className="grid flex-1 max-lg:content-start lg:grid-cols-[minmax(0,500px)_minmax(0,1fr)]">
          {draft ? (
            <>
              <PictureSheet
                draft={draft}
                collection={collection}
                isPageShown={isPageShown}
                togglePage={() => setPageShown(!isPageShown)}
              />
              <DraftSheet
                ref={sheet}
                draft={draft}
                collection={collection}
                editing={editing}
                isAsking={isAsking}
                alike={alike}
                acts={{
                  accept,
                  edit: setEditing,
                  save,
                  reject: () => setDialog('reject'),
                  again: () => setDialog('again'),
                  decorative,
                  use: (text) => decide([item], { kind: 'accept', text, by: by() }, s.acts.edit(name)),
                  together: () => setDialog('alike'),
                  used: (what, act) => remember({ what: s.usedAs(what, name), act, href: address(collection, view) }),
                }}
              />
            </>
          ) : (
            // It takes the focus until the draft is there, so that keys which step on are heard.
            <p data-reading tabIndex={-1} className="p-7 text-ink-2 outline-none">
              {strings.galley.loading}
            </p>
          )}
        </div>
      )}
      {items.length > 1 && <Strip items={items} at={at} show={show} />}
      {dialog === 'reject' && <RejectDialog reject={reject} close={() => setDialog(null)} />}
      {dialog === 'again' && draft && (
        <AgainDialog
          services={opened.services}
          last={draft.record.origin.service}
          ask={(service, hint) => void again(service, hint)}
          close={() => setDialog(null)}
        />
      )}
      {dialog === 'clean' && (
        <CleanDialog
          collection={collection}
          view={view}
          count={list.clean}
          read={list.decided.acts}
          by={by()}
          done={refresh}
          close={() => setDialog(null)}
        />
      )}
      {dialog === 'alike' && draft && (
        <AlikeDialog
          items={[item!, ...alike]}
          lang={draft.lang}
          accept={(chosen) => decide(chosen, { kind: 'accept', by: by() }, s.alikeWhat)}
          close={() => setDialog(null)}
        />
      )}
    </div>
  );
}

const withDraft = (to: string, id: number) => `${to}${to.includes('?') ? '&' : '?'}draft=${id}`;

/** The pictures that come next, each a way to its draft. */
function Strip({ items, at, show }: { items: readonly DraftItem[]; at: number; show(id: number): void }) {
  const s = strings.reading;
  const shown = items.slice(at, at + STRIP);
  const more = items.length - at - shown.length;
  return (
    <nav
      aria-label={s.next}
      className="no-print flex flex-wrap items-center gap-2 border-t border-hair bg-paper px-7 py-2.5"
    >
      <span className="mr-1 text-[14px] text-ink-2">{s.next}</span>
      {shown.map((i, n) => (
        <button
          key={i.id}
          type="button"
          aria-current={n === 0 ? 'true' : undefined}
          aria-label={s.itemName(at + n + 1)}
          onClick={() => show(i.id)}
          className={`h-[52px] w-[74px] border bg-white ${n === 0 ? 'border-2 border-ink' : 'border-hair'}`}
        >
          {i.thumb && <img src={i.thumb} alt="" className="h-full w-full object-contain" loading="lazy" />}
        </button>
      ))}
      {more > 0 && <span className="text-[14px] text-ink-2">{s.moreNext(more)}</span>}
    </nav>
  );
}
