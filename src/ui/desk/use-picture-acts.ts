import type { DeskPicture } from '@/contract/desk';
import type { Target } from '@/contract/target';
import type { Purpose } from '@/core/model/appearance';
import type { Placement } from '@/core/model/texts';
import type { Credit } from '@/core/model/credit';
import { useActs } from '../frame/acts';
import { strings } from '../strings';
import type { DeskActions } from './desk-actions';

interface Shown {
  collection: string;
  picture: number;
  data: DeskPicture;
  /** Address of the shown place. */
  href: string;
  /** Titles of the rules. */
  titles: Readonly<Record<string, string>>;
  actions: DeskActions;
  /** Reads the picture again. */
  refetch(): Promise<unknown>;
}

/** What can be done to the shown picture besides writing: each act is said, can be undone, and is drawn at once. */
export function usePictureActs({ collection, picture, data, href, titles, actions, refetch }: Shown) {
  const { did } = useActs();
  const name = strings.pictureName(data.name);
  const shown = data.places[0]!;
  /** Runs an act under a new id; says what it did, unless there is nothing to say. */
  const run = async (what: string, work: (act: string) => Promise<string>) => {
    const act = crypto.randomUUID();
    did(await work(act), { what, act, href });
    await refetch();
  };
  return {
    settlePurpose: (purpose: Purpose) =>
      run(strings.undo.purpose(name), async (act) => {
        await actions.settle(collection, [shown.id], purpose, act);
        return strings.undo.settled(strings.desk.purposes[purpose].toLowerCase());
      }),
    recordCredit: (credit: Credit) =>
      run(strings.undo.credit(name), async (act) => {
        await actions.record(collection, picture, credit, act);
        return strings.desk.details.recorded;
      }),
    showCreditLine: (places: number[], isShown: boolean) =>
      run(strings.undo.creditLine(name), async (act) => {
        await actions.showCredit(collection, places, isShown, act);
        return strings.desk.details.lineShown(isShown);
      }),
    placeDescription: (placement: Placement) =>
      run(strings.undo.placement(name), async (act) => {
        await actions.placeLong(collection, picture, placement, act);
        return strings.desk.placement.chosen(placement.stand);
      }),
    acceptWord: (word: string) =>
      run(strings.undo.word(word), async (act) => {
        await actions.notes.acceptWord(collection, word, act);
        return strings.notes.accepted(word);
      }),
    ignoreFinding: (rule: string, reason: string, by: string) =>
      run(strings.undo.ignored(titles[rule] ?? rule, name), async (act) => {
        const target: Target = { kind: 'places', places: [shown.id] };
        const count = await actions.notes.ignoreFinding(collection, target, { rule, reason, by, act });
        return strings.notes.ignoredIn(strings.places(count));
      }),
    bringBack: (rule: string) =>
      run(strings.undo.shownAgain(titles[rule] ?? rule, name), async (act) => {
        await actions.notes.bringBack(collection, shown.id, rule, act);
        return strings.notes.broughtBack;
      }),
  };
}
