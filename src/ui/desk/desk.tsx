'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import type { DeskPicture } from '@/contract/desk';
import type { GalleyView, Queue } from '@/contract/galley';
import type { Target } from '@/contract/target';
import type { Purpose } from '@/core/model/appearance';
import type { Fix } from '@/core/model/finding';
import type { Credit } from '@/core/picture/credit';
import { withLines } from '@/core/words/long-description';
import { useActs } from '../frame/acts';
import { ConflictView } from '../conflict/conflict-view';
import { clashingPlaces, type Choose, type Keep } from '../frame/keep';
import type { NoteActions } from '../notes/note-actions';
import { asQuery } from '../galley/address';
import { useKeys } from '../primitives/keys';
import { strings } from '../strings';
import { Alike } from './similar';
import { DeskBar } from './bar';
import { DraftView } from './draft';
import { History } from './history';
import { LongDescription } from './long-description';
import { Passage } from './passage';
import { Places } from './places';
import { Plate } from './plate';
import { PurposeChoice } from './purpose';
import { arriveTo, hasTrail, leaveTrail, takeArrival, takeTrail } from './trail';
import { useFindings } from './use-findings';
import { useAutosave } from './use-autosave';
import { moreUrgent, type Written } from './autosaver';
import { WritingPlace } from './writing-place';

interface Props {
  collection: string;
  picture: number;
  view: GalleyView;
  data: DeskPicture;
  queue: Queue;
  /** The server's clock, so that both draw the same dates. */
  now: string;
  keep: Keep;
  choose: Choose;
  settle(collection: string, places: number[], purpose: string): Promise<void>;
  undo(collection: string, act: string): Promise<void>;
  notes: NoteActions;
  record(collection: string, picture: number, credit: Credit): Promise<void>;
  /** @returns what somebody else has saved since `base`, which stands then */
  saveLong(collection: string, picture: number, text: string, act: string, base: string): Promise<string | null>;
}

/** One picture at a time, with all that is needed to word it. */
export function Desk({
  collection,
  picture,
  view,
  data,
  queue: latest,
  now,
  keep,
  choose,
  settle,
  undo,
  notes,
  record,
  saveLong,
}: Props) {
  const router = useRouter();
  const { did, remember, onUndo } = useActs();
  // Words that are kept may move the picture in its queue; what comes next stays what it was.
  const [queue] = useState(latest);
  const shown = data.places[0]!;
  const lang = shown.reading.context.lang ?? shown.page.lang;
  const writing = useRef<HTMLTextAreaElement>(null);
  const pageText = shown.state === 'described' ? shown.heard : '';
  const autosave = useAutosave(
    `${collection}/${picture}/${shown.id}`,
    { text: pageText, places: sameWords(data), by: 'person' },
    async ({ text, places, by }, act, since) => {
      // An emptied field says nothing yet; silence is an act of its own.
      const words = text.trim() === '' ? null : text.trim();
      const answer = await keep({ collection, target: targetOf(places, picture), text: words, act, by, since });
      remember(strings.undo.saved(strings.pictureName(data.name)), act);
      router.refresh();
      return answer;
    },
    data.revision,
  );
  const { saver } = autosave;
  const longWriting = useRef<HTMLTextAreaElement>(null);
  const longBase = useRef(data.longDescription.text);
  /** A long description that somebody else saved meanwhile; null when there is none to choose from. */
  const [otherLong, setOtherLong] = useState<string | null>(null);
  const long = useAutosave(
    `${collection}/${picture}/long`,
    { text: data.longDescription.text, places: 'all', by: 'person' },
    async ({ text }, act) => {
      const theirs = await saveLong(collection, picture, text.trim(), act, longBase.current);
      setOtherLong(theirs);
      if (theirs === null) longBase.current = text.trim();
      router.refresh();
      return { conflicts: theirs === null ? [] : [theirs], revision: 0 };
    },
  );
  useEffect(() => {
    if (long.saver.currentAct === '') longBase.current = data.longDescription.text;
  }, [long.saver, data.longDescription.text]);
  const { text, places } = autosave.value;
  const trail = useSyncExternalStore(nothingToHear, hasTrail, () => false);

  const heading = useRef<HTMLHeadingElement>(null);
  const [leaving, setLeaving] = useState(false);
  useEffect(() => {
    if (takeArrival() === 'look') heading.current?.focus();
    else {
      writing.current?.focus();
      // Of what was typed before the page listened, nothing is replaced by the next key.
      if (writing.current?.value === pageText) writing.current.select();
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the picture comes
  }, []);

  useEffect(() => {
    // What was typed while the page was only drawn yet counts.
    const typed = writing.current?.value;
    if (typed !== undefined && typed !== pageText) saver.change({ text: typed });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the page begins to listen
  }, [saver]);

  const { live, ignored, titles, findings, inSets } = useFindings(data, shown, text, pageText);

  useEffect(
    () =>
      onUndo((act) => {
        // What is being written here and was not undone stays.
        for (const one of [saver, long.saver]) if (one.currentAct === act) one.forget();
        router.refresh();
      }),
    [onUndo, saver, long.saver, router],
  );

  const wantsLong = shown.purpose === 'complex' || shown.findings.some((f) => f.rule === 'needs-long-description');
  const namesControl = shown.reading.context.control?.text === '';
  const deskHref = (id: number) => `/c/${collection}/desk/${id}?${asQuery(view)}`;

  const goOn = async (how: 'write' | 'look') => {
    if (leaving) return;
    setLeaving(true);
    await Promise.all([saver.flush(), long.saver.flush()]);
    // Somebody has to choose first.
    if ([saver, long.saver].some((one) => one.get().status === 'conflict')) {
      setLeaving(false);
      document.querySelector<HTMLElement>('[data-conflicts] button')?.focus();
      return;
    }
    const act = saver.currentAct;
    if (act) did(strings.undo.saved(strings.pictureName(data.name)), act);
    leaveTrail(deskHref(picture));
    arriveTo(how);
    router.push(queue.next === null ? `/c/${collection}/galley?${asQuery(view)}` : deskHref(queue.next));
  };
  const goBack = async () => {
    if (leaving) return;
    await Promise.all([saver.flush(), long.saver.flush()]);
    const address = takeTrail() ?? (queue.previous === null ? null : deskHref(queue.previous));
    if (!address) return;
    setLeaving(true);
    arriveTo('look');
    router.push(address);
  };
  const markDecorative = async () => {
    if (namesControl) return;
    const act = crypto.randomUUID();
    const since = saver.startedFrom;
    saver.forget('');
    const answer = await keep({ collection, target: targetOf(places, picture), text: '', act, since });
    did(
      answer.conflicts.length > 0
        ? strings.undo.clashes(strings.places(clashingPlaces(answer)))
        : strings.undo.silenced(strings.places(answer.places)),
      answer.places > 0 ? act : null,
    );
    router.refresh();
  };
  const acceptDraft = () => {
    const draft = shown.waitingDraft ?? data.draft?.text;
    if (!draft) return;
    saver.change({ text: draft, by: 'drafter' });
    writing.current?.focus();
  };
  const startFrom = (words: string) => {
    saver.change({ text: words, by: 'person' });
    writing.current?.focus();
  };
  const describe = (lines: readonly string[]) => {
    long.saver.change({ text: withLines(long.value.text, lines) });
    const field = longWriting.current;
    field?.closest('details')?.setAttribute('open', '');
    field?.focus();
  };
  const apply = async (fix: Fix) => {
    if (fix.kind === 'mark decorative') await markDecorative();
    else if (fix.kind === 'use words') saver.change({ text: fix.text, by: 'person' });
    else {
      await notes.acceptWord(collection, fix.word);
      did(strings.notes.accepted(fix.word), null);
      router.refresh();
    }
  };
  const ignoreFinding = async (rule: string, reason: string, by: string) => {
    await saver.flush();
    const act = crypto.randomUUID();
    const count = await notes.ignoreFinding(
      collection,
      { kind: 'places', places: [shown.id] },
      { rule, reason, by, act },
    );
    did(strings.notes.ignoredIn(strings.places(count)), act);
    router.refresh();
  };
  const bringBack = async (rule: string) => {
    await notes.bringBack(collection, shown.id, rule);
    did(strings.notes.broughtBack, null);
    router.refresh();
  };

  useKeys({
    j: () => void goOn('look'),
    k: () => void goBack(),
    s: () => void markDecorative(),
    t: acceptDraft,
    w: () => writing.current?.focus(),
  });

  return (
    <div>
      <DeskBar
        queue={queue}
        hasPrevious={trail || queue.previous !== null}
        view={view}
        rule={view.rule === 'any' ? null : (titles[view.rule] ?? view.rule)}
        name={strings.pictureName(data.name)}
        status={moreUrgent(autosave.status, long.status)}
        decorative={{ is: shown.state === 'decorative' && text === '', refused: namesControl }}
        previous={() => void goBack()}
        next={() => void goOn('look')}
        markDecorative={() => void markDecorative()}
        keepAndGoOn={() => void goOn('write')}
        heading={heading}
      />
      <div className="desk">
        <Plate
          collection={collection}
          data={data}
          reading={shown.reading}
          lang={lang}
          say={startFrom}
          describe={describe}
          record={async (credit) => {
            await record(collection, picture, credit);
            did(strings.desk.details.recorded, null);
            router.refresh();
          }}
        />
        <section className="min-w-0">
          {data.conflicts.length > 0 && (
            <div data-conflicts data-focus-home="textarea">
              {data.conflicts.map((c) => (
                <ConflictView
                  key={c.id}
                  conflict={c}
                  level={2}
                  choose={async (choice, words) => {
                    const act = crypto.randomUUID();
                    const chosen = await choose(collection, c.id, choice, act);
                    if (c.appearanceId === shown.id || saver.get().status === 'conflict') saver.forget(words ?? '');
                    writing.current?.focus();
                    did(
                      chosen ? strings.conflict.chosen(strings.pictureName(c.picture), choice) : strings.conflict.late,
                      chosen ? act : null,
                    );
                    router.refresh();
                  }}
                />
              ))}
            </div>
          )}
          <Passage place={shown} text={text} lang={lang} />
          <PurposeChoice
            purpose={shown.purpose}
            settled={shown.purposeSettled}
            evidence={shown.evidence}
            sure={shown.purposeSure}
            known={shown.answers}
            settle={async (purpose: Purpose) => {
              await settle(collection, [shown.id], purpose);
              did(strings.undo.settled(strings.desk.purposes[purpose].toLowerCase()), null);
              router.refresh();
            }}
          />
          <WritingPlace
            ref={writing}
            text={text}
            lang={lang}
            reading={shown.reading}
            limit={data.limit}
            findings={findings}
            inSets={inSets}
            ignored={ignored}
            live={live}
            titles={titles}
            now={now}
            collection={collection}
            change={(next) => saver.change({ text: next, by: 'person' })}
            apply={(fix) => void apply(fix)}
            ignoreFinding={ignoreFinding}
            bringBack={bringBack}
            keepAndGoOn={() => void goOn('write')}
            locked={leaving}
            leave={() => heading.current?.focus()}
          />
          <LongDescription
            ref={longWriting}
            text={long.value.text}
            history={data.longDescription.history}
            lang={lang}
            wanted={wantsLong}
            now={now}
            change={(next) => long.saver.change({ text: next })}
            other={otherLong}
            choose={(choice) => {
              const theirs = otherLong ?? '';
              longBase.current = theirs;
              setOtherLong(null);
              if (choice === 'theirs') long.saver.forget(theirs);
              else long.saver.change({ text: long.value.text });
              longWriting.current?.focus();
            }}
            undo={async (act) => {
              long.saver.forget();
              await undo(collection, act);
              did(strings.undo.done, null);
              router.refresh();
            }}
          />
          <div className="grid gap-x-7 gap-y-5 border-t border-hair px-4 py-3.5 text-[14px] sm:px-7 lg:grid-cols-2">
            <Places
              data={data}
              chosen={places}
              href={(id) => `${deskHref(picture)}&place=${id}`}
              choose={(next) => saver.change({ places: next })}
            />
            <DraftView place={shown} draft={data.draft} lang={lang} accept={acceptDraft} />
          </div>
          {data.similar && <Alike alike={data.similar} collection={collection} href={deskHref} start={startFrom} />}
          <History
            use={(words) => (words === '' ? void markDecorative() : startFrom(words))}
            place={shown}
            lang={lang}
            now={now}
            undo={async (act) => {
              saver.forget();
              await undo(collection, act);
              did(strings.undo.done, null);
              router.refresh();
            }}
          />
        </section>
      </div>
    </div>
  );
}

const nothingToHear = () => () => {};

function targetOf(places: Written['places'], picture: number): Target {
  return places === 'all' ? { kind: 'pictures', pictures: [picture] } : { kind: 'places', places: [...places] };
}

/** The places that words for the shown one are for as well: the same purpose and target, unsaid or saying the same. */
function sameWords({ places }: DeskPicture): ReadonlySet<number> {
  const shown = places[0]!;
  const alike = places.filter(
    (p) =>
      p.purpose === shown.purpose &&
      (p.reading.context.lang ?? p.page.lang) === (shown.reading.context.lang ?? shown.page.lang) &&
      (p.reading.context.control?.href ?? null) === (shown.reading.context.control?.href ?? null) &&
      p.state === shown.state &&
      p.heard === shown.heard,
  );
  return new Set(alike.map((p) => p.id));
}
