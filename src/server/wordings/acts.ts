import { eq } from 'drizzle-orm';
import { groupBy } from '@/core/group-by';
import type { RuleStyle } from '@/core/rules/audit';
import type { Placement } from '@/core/model/texts';
import type { Credit } from '@/core/model/credit';
import { auditChanged } from '../audit/audit-changes';
import { applyStyle } from '../audit/house-style';
import { turnIgnored } from '../audit/ignored';
import { turnSteps, type Step, type StepKind } from '../catalogue/act-steps';
import { raiseChanges } from '../catalogue/collection-state';
import { setCredit } from '../catalogue/credit';
import { announceChange } from '../changes';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, picture } from '../db/schema';
import { transactionWithJobs } from '../jobs/queue';
import { reopenConflicts, resettleConflicts } from './conflicts';
import { picturesOf, PORTION, redoWordings, setPurpose, undoWordings, type SettledPurpose } from './history';
import { turnFieldTexts } from './field-texts';
import { applyHistory } from './wordings';

type Direction = 'undo' | 'redo';

/** Takes back everything that was done under one act; gives back at how many places, pictures and settings. */
export const undoAct = (collectionId: string, act: string): Promise<number> => turnAct(collectionId, act, 'undo');

/** Does again what was done under an act that was undone. */
export const redoAct = (collectionId: string, act: string): Promise<number> => turnAct(collectionId, act, 'redo');

/** In portions, each in a transaction of its own, so that others need not wait for an act in very many places. */
async function turnAct(collectionId: string, act: string, direction: Direction): Promise<number> {
  for (let count = 0; ;) {
    const turned = await turnPortion(collectionId, act, direction);
    count += turned;
    if (turned < PORTION) return count;
  }
}

async function turnPortion(collectionId: string, act: string, direction: Direction): Promise<number> {
  const { count, pictures } = await transactionWithJobs(collectionId, async (tx) => {
    const turn = direction === 'undo' ? undoWordings : redoWordings;
    const ids = [...new Set(await turn(tx, collectionId, act))];
    if (direction === 'undo') await reopenConflicts(tx, collectionId, act);
    else await resettleConflicts(tx, collectionId, act);
    await applyHistory(tx, collectionId, ids);
    const ignored = await turnIgnored(tx, collectionId, act, direction);
    const fields = await turnFieldTexts(tx, collectionId, act, direction);
    const steps = await turnSteps(tx, collectionId, act, direction);
    for (const kind of STEP_KINDS) {
      const own = steps
        .filter((s) => s.kind === kind)
        .map((s) => ({ ...s, to: direction === 'undo' ? s.before : s.after }));
      if (own.length > 0) await TAKE[kind](tx, collectionId, own);
    }
    const places = [...ids, ...ignored, ...steps.filter((s) => AT_PLACES.includes(s.kind)).map((s) => s.target)];
    const touched = (await picturesOf(tx, [...new Set(places)])).map((p) => p.id);
    const others = steps.filter((s) => AT_PICTURES.includes(s.kind)).map((s) => s.target);
    return {
      count: ids.length + ignored.length + Math.max(fields.places.length, fields.pictures.length) + steps.length,
      pictures: steps.some((s) => s.kind === 'style') ? null : [...touched, ...fields.pictures, ...others],
    };
  });
  announceChange({ collectionId, pictures });
  return count;
}

type Turned = Step & { to: unknown };

const STEP_KINDS: readonly StepKind[] = ['purpose', 'credit', 'style', 'left-out', 'placement', 'credit-line'];
const AT_PLACES: readonly StepKind[] = ['purpose', 'left-out', 'credit-line'];
const AT_PICTURES: readonly StepKind[] = ['credit', 'placement'];

/** How each kind of step is taken, to what stood there before or after it. */
const TAKE: Record<StepKind, (tx: Queryable, collectionId: string, steps: readonly Turned[]) => Promise<void>> = {
  async purpose(tx, collectionId, steps) {
    const byPurpose = groupBy(steps, (s) => JSON.stringify(s.to));
    for (const [to, own] of byPurpose)
      await setPurpose(
        tx,
        own.map((s) => s.target),
        JSON.parse(to) as SettledPurpose,
      );
    await auditChanged(
      tx,
      collectionId,
      steps.map((s) => s.target),
      [],
    );
  },
  async credit(tx, _, steps) {
    for (const { target, to } of steps) await setCredit(tx, target, to as Credit | null);
  },
  async style(tx, collectionId, steps) {
    await applyStyle(tx, collectionId, steps.at(-1)!.to as RuleStyle);
  },
  'left-out': (tx, _, steps) => turnFlag(tx, steps, (leftOut) => ({ leftOut: leftOut === true })),
  async 'credit-line'(tx, collectionId, steps) {
    await turnFlag(tx, steps, (creditLine) => ({ creditLine }));
    await raiseChanges(tx, collectionId);
  },
  async placement(tx, _, steps) {
    for (const { target, to } of steps)
      await tx
        .update(picture)
        .set({ longPlacement: to as Placement | null })
        .where(eq(picture.id, target));
  },
};

/** Sets what is either so or not at the places of steps. */
async function turnFlag(
  tx: Queryable,
  steps: readonly Turned[],
  flag: (to: boolean | null) => Partial<Pick<typeof appearance.$inferInsert, 'leftOut' | 'creditLine'>>,
): Promise<void> {
  for (const to of [true, false, null]) {
    const places = steps.filter((s) => s.to === to).map((s) => s.target);
    await tx.update(appearance).set(flag(to)).where(among(appearance.id, places));
  }
}
