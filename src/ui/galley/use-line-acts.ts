import { useCallback, useRef, useState } from 'react';
import type { Line } from '@/contract/galley';
import type { Target } from '@/contract/target';
import { useActs, type Act } from '../frame/acts';
import { clashingPlaces, keepWords } from '../frame/keep';
import { whatIsWrong } from '../frame/what-is-wrong';
import { strings } from '../strings';
import type { GalleyActions } from './galley-actions';
import type { LineActs } from './line';
import { keyOf, lineTarget } from './selection';

/**
 * What is done to a line of the Galley: one act after the other, each said, to be undone, and drawn.
 *
 * @param hrefOf address of the line's picture at the Desk
 * @param redraw fetches the lines again
 */
export function useLineActs(
  collection: string,
  actions: GalleyActions,
  titles: Readonly<Record<string, string>>,
  hrefOf: (line: Line) => string,
  redraw: () => Promise<void>,
): Omit<LineActs, 'titles' | 'edit' | 'pick'> & {
  /** A line as it will be once what was said of it is saved. */
  shown(line: Line): Line;
} {
  const { did } = useActs();
  /** Acts one after the other: the next one knows what the one before has saved. */
  const latest = useRef<Promise<void>>(Promise.resolve());
  /** Ends when the lines are there as the last act left them. */
  const drawn = useRef<Promise<void>>(Promise.resolve());
  /** Performs an act on some lines, says it and draws them again. */
  const perform = useCallback(
    (work: (act: string) => Promise<[message: string, act: Omit<Act, 'act'> | null]>): Promise<void> => {
      const run = async () => {
        const act = crypto.randomUUID();
        try {
          const [message, done] = await work(act);
          did(message, done && { ...done, act });
        } catch {
          did((await whatIsWrong()) ?? strings.failed);
        }
        drawn.current = redraw();
      };
      return (latest.current = latest.current.then(run));
    },
    [did, redraw],
  );
  const nameOf = (l: Line) => strings.pictureName(l.name);

  /** Texts on their way to be saved, by the keys of their lines. */
  const [coming, setComing] = useState<ReadonlyMap<number, string>>(new Map());
  const keepAt = (l: Line, target: Target, text: string) => {
    const key = keyOf(l);
    setComing((before) => new Map([...before, [key, text]]));
    const arrived = () =>
      setComing((before) => new Map([...before].filter(([of, what]) => of !== key || what !== text)));
    return perform(async (act) => {
      const answer = await keepWords({ collection, target, text, act, since: l.revision });
      if (answer.conflicts.length > 0) return [strings.undo.clashes(strings.places(clashingPlaces(answer))), null];
      const places = strings.places(answer.places);
      return text === ''
        ? [strings.undo.silenced(places), { what: strings.undo.decorative(nameOf(l)), href: hrefOf(l) }]
        : [strings.undo.worded(places), { what: strings.undo.altText(nameOf(l)), href: hrefOf(l) }];
    }).finally(() => void drawn.current.finally(arrived));
  };
  return {
    shown: (l) => {
      const text = coming.get(keyOf(l));
      if (text === undefined) return l;
      return { ...l, heard: text, state: text === '' ? 'decorative' : 'described', draft: null, notes: [] };
    },
    say: (l, text) => keepAt(l, lineTarget(l), text),
    fix: (l, target, fix) => {
      if (fix.kind === 'accept word')
        void perform(async (act) => {
          await actions.notes.acceptWord(collection, fix.word, act);
          return [strings.notes.accepted(fix.word), { what: strings.undo.word(fix.word) }];
        });
      else void keepAt(l, target, fix.kind === 'mark decorative' ? '' : fix.text);
    },
    ignoreFinding: (l, target, rule, reason, by) =>
      perform(async (act) => {
        const places = await actions.notes.ignoreFinding(collection, target, { rule, reason, by, act });
        const what = strings.undo.ignored(titles[rule] ?? rule, nameOf(l));
        return [strings.notes.ignoredIn(strings.places(places)), { what, href: hrefOf(l) }];
      }),
    draft: (l) =>
      void perform(async (act) => {
        const { drafted, of } = await actions.draft(collection, lineTarget(l), act);
        return [strings.undo.drafted(drafted, of), drafted > 0 ? { what: strings.undo.draftOf(nameOf(l)) } : null];
      }),
    accept: (l) =>
      void perform(async (act) => {
        const places = await actions.answerDrafts(collection, lineTarget(l), 'accept', act);
        if (places === 0) return [strings.undo.gaps, null];
        return [
          strings.undo.worded(strings.places(places)),
          { what: strings.undo.altText(nameOf(l)), href: hrefOf(l) },
        ];
      }),
    reject: (l) =>
      void perform(async (act) => {
        await actions.answerDrafts(collection, lineTarget(l), 'reject', act);
        return [strings.undo.rejected, { what: strings.undo.rejection(nameOf(l)), href: hrefOf(l) }];
      }),
    choose: (l, conflict, choice) =>
      perform(async (act) => {
        const chosen = await actions.choose(collection, conflict, choice, act);
        return chosen
          ? [strings.conflict.chosen(nameOf(l)), { what: strings.undo.choice(nameOf(l)), href: hrefOf(l) }]
          : [strings.conflict.late, null];
      }),
  };
}
