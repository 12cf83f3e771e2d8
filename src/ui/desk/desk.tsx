'use client';

import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { DeskPicture } from '@/contract/desk';
import type { GalleyView } from '@/contract/galley';
import type { Target } from '@/contract/target';
import type { AppliedFix } from '@/core/model/finding';
import { gapsIn, hasGaps } from '@/core/draft/draft';
import { withLines } from '@/core/words/long-description';
import { useQueryClient } from '@tanstack/react-query';
import { ConflictView } from '../conflict/conflict-view';
import { useActs } from '../frame/acts';
import { clashingPlaces, keepWords } from '../frame/keep';
import { whatIsWrong } from '../frame/what-is-wrong';
import { useCommands } from '../keys/use-commands';
import { StartRound } from '../rounds/start-round';
import { strings } from '../strings';
import { takeArrival, takeTyped } from './arrival';
import { moreUrgent, type Written } from './autosaver';
import { DeskBar } from './bar';
import { CreditFold } from './credit';
import type { DeskActions } from './desk-actions';
import type { QueueStep } from './desk-queue';
import type { DeskQueue } from './use-desk-queue';
import { DraftView } from './draft';
import { writeInto } from './field';
import { History } from './history';
import type { LongField } from './long-description';
import { OtherTextsView } from './other-texts-view';
import { Passage } from './passage';
import { PictureFacts, Plate } from './plate';
import { Places } from './places';
import { placesToWord } from './places-to-word';
import { PurposeChoice } from './purpose';
import { Alike } from './similar';
import { heardAs, speak } from './speech';
import { useAutosave } from './use-autosave';
import { useFindings } from './use-findings';
import { placesFor, useOtherTexts } from './use-other-texts';
import { usePictureActs } from './use-picture-acts';
import { useAnnouncedFindings } from './use-announced-findings';
import { WritingPlace } from './writing-place';

interface Props {
  collection: string;
  picture: number;
  view: GalleyView;
  data: DeskPicture;
  step: QueueStep;
  more: DeskQueue['more'];
  /** Whether `step` is final; at first it may be that of a new queue. */
  isSettled: boolean;
  steps: {
    /** Shows the picture so many further on; false where there is none. */
    by(count: 1 | -1, how: 'write' | 'look'): boolean;
    leave(): void;
  };
  href(picture: number, place?: number): string;
  actions: DeskActions;
}

/** One picture at a time, with all that is needed to word it. */
export function Desk({ collection, picture, view, data, step, more, isSettled, steps, href, actions }: Props) {
  const client = useQueryClient();
  const acts = useActs();
  const { did, remember, say, onTurn } = acts;
  const name = strings.pictureName(data.name);
  const shown = data.places[0]!;
  const own = href(picture, shown.id);
  const lang = shown.reading.context.lang ?? shown.page.lang;
  const writing = useRef<HTMLTextAreaElement>(null);
  const isHere = useRef(true);
  const [now] = useState(() => new Date().toISOString());
  const refetch = useCallback(
    () => client.invalidateQueries({ queryKey: [collection, 'desk', picture] }),
    [client, collection, picture],
  );

  const pageText = shown.state === 'described' ? shown.heard : '';
  const autosave = useAutosave(
    `${collection}/${picture}/${shown.id}`,
    { text: pageText, places: placesToWord(data.places), by: 'person' },
    async ({ text, places, by }, act, since) => {
      // An emptied field says nothing yet; silence is an act of its own.
      const words = text.trim() === '' ? null : text.trim();
      const answer = await keepWords({ collection, target: targetOf(places, picture), text: words, act, by, since });
      remember({ what: strings.undo.altText(name), act, href: own });
      if (answer.conflicts.length > 0 && !isHere.current)
        did(strings.undo.clashes(strings.places(clashingPlaces(answer))), null, own);
      void refetch();
      return answer;
    },
    data.revision,
  );
  const { saver } = autosave;
  const longField = useRef<LongField>(null);
  const { text, places } = autosave.value;
  const others = useOtherTexts(collection, picture, data, places, (which, act) => {
    if (act !== null) remember({ what: strings.undo.otherText(which, name), act, href: own });
    void refetch();
  });
  const savers = [saver, ...Object.values(others).map((o) => o.saver)];

  const { live, ignored, titles, findings, inSets } = useFindings(collection, data, shown, text, pageText, {
    title: others.title.text,
    caption: others.caption.text,
  });
  useAnnouncedFindings(text, findings, titles, say);
  const pictureActs = usePictureActs({ collection, picture, data, href: own, titles, actions, refetch });

  const put = (words: string, by: Written['by']) => {
    if (writing.current) writeInto(writing.current, words);
    saver.change({ text: words, by });
    writing.current?.focus();
  };

  const heading = useRef<HTMLHeadingElement>(null);
  // With the drawing itself, so that no key falls between two fields.
  useLayoutEffect(() => {
    isHere.current = true;
    if (takeArrival() === 'look') heading.current?.focus();
    else {
      writing.current?.focus();
      // Of what was typed before the page listened, nothing is replaced by the next key.
      if (writing.current?.value === pageText) writing.current.select();
      const typed = takeTyped();
      if (typed !== '') put(typed, 'person');
    }
    return () => {
      isHere.current = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the picture comes
  }, []);
  useEffect(() => {
    // What was typed while the page was only drawn yet counts.
    const typed = writing.current?.value;
    if (typed !== undefined && typed !== pageText) saver.change({ text: typed });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the page begins to listen
  }, [saver]);

  /** Marked decorative, and not saved yet. */
  const [isMarking, setMarking] = useState(false);
  const { position, total } = step;
  const state = shown.waitingDraft !== null ? 'draft' : shown.state;
  const found = shown.findings.length;
  const whereabouts =
    position === null || !isSettled ? null : strings.desk.whereabouts(position, total, name, state, found);
  const saidAt = useRef<number | null>(null);
  useEffect(() => {
    // Once for each picture: what changes at it is said by what changed it.
    if (whereabouts === null || saidAt.current === picture) return;
    saidAt.current = picture;
    say(whereabouts);
  }, [picture, whereabouts, say]);

  const latest = useRef(savers);
  useEffect(() => {
    latest.current = savers;
  });
  useEffect(
    () =>
      onTurn((act) => {
        // What is being written here and was not undone stays.
        for (const one of latest.current) if (one.currentAct === act) one.forget();
        void refetch();
      }),
    [onTurn, refetch],
  );

  const wantsLong = shown.purpose === 'complex' || shown.findings.some((f) => f.rule === 'needs-long-description');
  const creditPlaces = data.places
    .filter((p) => p.creditLine.refused === null && (places === 'all' || places.has(p.id) || p === shown))
    .map((p) => p.id);
  const namesControl = shown.reading.context.control?.text === '';

  /** Selects the first part of a text that a person has to fill, so that writing fills it. */
  const selectGap = (of: string): boolean => {
    const [gap] = gapsIn(of);
    if (!gap) return false;
    writing.current?.focus();
    writing.current?.setSelectionRange(gap.start, gap.end);
    return true;
  };
  /** Somebody has to choose first. */
  const isHeldBack = (): boolean => {
    if (!savers.some((one) => one.get().status === 'conflict')) return false;
    document.querySelector<HTMLElement>('[data-conflicts] button')?.focus();
    return true;
  };
  const go = (to: 'next' | 'previous', how?: 'write' | 'look') => {
    if (isHeldBack()) return;
    // Whoever saves what still asks something is shown where.
    if (how === 'write' && to === 'next' && selectGap(text)) return say(strings.desk.fillGaps);
    // It is saved behind; from now on it can be undone all the same.
    if (saver.currentAct && !hasGaps(text))
      remember({ what: strings.undo.altText(name), act: saver.currentAct, href: own });
    // Before the next picture is drawn, nothing has the focus; who steps on then was writing.
    const isWriting = document.activeElement === writing.current || document.activeElement === document.body;
    if (steps.by(to === 'next' ? 1 : -1, how ?? (isWriting ? 'write' : 'look'))) {
      // Until the next picture is drawn, this field takes nothing any more.
      if (writing.current) writing.current.readOnly = true;
      return;
    }
    if (to === 'next' && position === total) {
      did(strings.desk.last(total));
      if (how === 'write') steps.leave();
    }
  };
  const markDecorative = async () => {
    if (namesControl) return did(strings.desk.allItSays);
    const act = crypto.randomUUID();
    const since = saver.startedFrom;
    saver.forget('');
    setMarking(true);
    const answer = await keepWords({ collection, target: targetOf(places, picture), text: '', act, since }).catch(
      async () => (await whatIsWrong()) ?? strings.failed,
    );
    if (typeof answer === 'string') {
      setMarking(false);
      return did(answer);
    }
    did(
      answer.conflicts.length > 0
        ? strings.undo.clashes(strings.places(clashingPlaces(answer)))
        : strings.undo.silenced(strings.places(answer.places)),
      answer.places > 0 ? { what: strings.undo.decorative(name), act, href: own } : null,
    );
    void refetch().finally(() => setMarking(false));
  };
  const draft = shown.waitingDraft ?? (data.draft?.decorative ? '' : (data.draft?.text ?? null));
  const acceptDraft = () => {
    if (draft === null) return say(strings.desk.noDraft);
    if (draft === '') return void markDecorative();
    put(draft, 'drafter');
    say(hasGaps(draft) ? strings.desk.fillGaps : strings.desk.accepted(draft));
    selectGap(draft);
  };
  const apply = async (fix: AppliedFix) => {
    if (fix.kind === 'mark decorative') await markDecorative();
    else if (fix.kind === 'use words') put(fix.text, 'person');
    else await pictureActs.acceptWord(fix.word);
  };
  const ignoreFinding = async (rule: string, reason: string, by: string) => {
    await saver.flush();
    await pictureActs.ignoreFinding(rule, reason, by);
  };
  const hear = () => {
    const words = text.trim();
    const spoken =
      words === '' && shown.state === 'decorative' ? strings.desk.decorative : heardAs(shown.reading, words);
    if (!speak(spoken, lang)) did(strings.desk.noSpeech);
  };

  useCommands({
    'desk.next': () => go('next'),
    'desk.previous': () => go('previous'),
    'desk.save-and-next': () => go('next', 'write'),
    'desk.write': () => writing.current?.focus(),
    'text.decorative': () => void markDecorative(),
    'text.accept-draft': acceptDraft,
    'text.hear': hear,
  });

  return (
    <div>
      <DeskBar
        step={step}
        more={more}
        view={view}
        rule={view.rule === 'any' ? null : (titles[view.rule] ?? view.rule)}
        name={name}
        status={Object.values(others).reduce((most, o) => moreUrgent(most, o.status), autosave.status)}
        decorative={{ is: (isMarking || shown.state === 'decorative') && text === '', refused: namesControl }}
        previous={() => go('previous', 'look')}
        next={() => go('next', 'look')}
        markDecorative={() => void markDecorative()}
        saveAndNext={() => go('next', 'write')}
        heading={heading}
      />
      <div className="desk">
        <Plate collection={collection} data={data} />
        <section className="desk-hands" aria-label={strings.desk.write}>
          {data.conflicts.length > 0 && (
            <div data-conflicts data-focus-home="textarea">
              {data.conflicts.map((c) => (
                <ConflictView
                  key={c.id}
                  conflict={c}
                  level={2}
                  isMine={saver.get().status === 'conflict'}
                  choose={async (choice, words) => {
                    const act = crypto.randomUUID();
                    const chosen = await actions.choose(collection, c.id, choice, act);
                    if (c.appearanceId === shown.id || saver.get().status === 'conflict') saver.forget(words ?? '');
                    writing.current?.focus();
                    did(
                      chosen ? strings.conflict.chosen(name) : strings.conflict.late,
                      chosen ? { what: strings.undo.choice(name), act, href: own } : null,
                    );
                    void refetch();
                  }}
                />
              ))}
            </div>
          )}
          <WritingPlace
            ref={writing}
            name={name}
            page={shown.pageName}
            text={text}
            isWritten={autosave.status !== 'untouched'}
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
            meanwhile={saver.currentAct !== '' && data.conflicts.length === 0 ? autosave.meanwhile : null}
            change={(next) => saver.change({ text: next, by: 'person' })}
            apply={(fix) => void apply(fix)}
            ignoreFinding={ignoreFinding}
            bringBack={pictureActs.bringBack}
            hear={hear}
            leave={() => heading.current?.focus()}
          />
          <DraftView place={shown} draft={data.draft} lang={lang} accept={acceptDraft} isTaken={text === draft}>
            <StartRound collection={collection} target={{ kind: 'pictures', pictures: [picture] }} />
          </DraftView>
          <Places
            data={data}
            chosen={places}
            href={(id) => href(picture, id)}
            choose={(next) => saver.change({ places: next })}
          />
          <PurposeChoice place={shown} settle={pictureActs.settlePurpose} />
          <OtherTextsView
            data={data}
            texts={others}
            altText={text}
            lang={lang}
            now={now}
            places={{
              title: placesFor('title', data.places, places).length,
              caption: placesFor('caption', data.places, places).length,
            }}
            wantsLong={wantsLong}
            longField={longField}
            place={pictureActs.placeDescription}
          />
          <CreditFold
            credit={data.credit}
            history={data.creditHistory}
            now={now}
            record={pictureActs.recordCredit}
            line={shown.creditLine}
            places={creditPlaces.length}
            show={(isShown) => pictureActs.showCreditLine(creditPlaces, isShown)}
          />
          <History
            place={shown}
            lang={lang}
            now={now}
            use={(words) => (words === '' ? void markDecorative() : put(words, 'person'))}
          />
        </section>
        <div className="desk-around">
          <PictureFacts
            data={data}
            reading={shown.reading}
            lang={lang}
            collection={collection}
            say={(words) => put(words, 'person')}
            describe={(lines) => {
              others.long.change(withLines(others.long.text, lines));
              longField.current?.focus();
            }}
          />
          <Passage collection={collection} place={shown} text={text} lang={lang} />
          {data.similar && (
            <Alike alike={data.similar} collection={collection} href={href} start={(words) => put(words, 'person')} />
          )}
        </div>
      </div>
    </div>
  );
}

function targetOf(places: Written['places'], picture: number): Target {
  return places === 'all' ? { kind: 'pictures', pictures: [picture] } : { kind: 'places', places: [...places] };
}
