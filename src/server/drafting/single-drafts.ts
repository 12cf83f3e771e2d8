import { UserError } from '@/core/model/user-error';
import { and, eq } from 'drizzle-orm';
import { announceChange } from '../changes';
import { database } from '../db/database';
import { wording } from '../db/schema';
import { transactionWithJobs } from '../jobs/queue';
import { DraftingError } from './drafting-error';
import { monthlyBudget } from './ledger';
import { SINGLE, type DraftRequest, type DraftResult } from './drafter';
import { draftRequests } from './draft-requests';
import { judged, picturesAt, storeDrafts, textOf, type JudgedDraft } from './drafts';
import { evidenceDraft } from './evidence-drafter';
import { faultsOf, inWordsForModel } from './faults';
import { ModelDrafter } from './model-drafter';
import { instructionsOf } from './prompts';
import { hostOf } from './service-address';
import { hasConsent, serviceById } from './services';

/** A single draft that somebody waits for. */
export interface SingleAsk {
  /** Null for the evidence drafter. */
  service: number | null;
  /** What an editor adds; null for nothing. */
  hint: string | null;
  /** Under which it is undone. */
  act: string;
}

/**
 * Drafts one text for places of one picture now, before what rounds ask; it replaces a draft that waits there.
 *
 * @returns the draft that is kept; null where there is nothing to say
 * @throws DraftingError when the service gives none
 */
export async function draftNow(
  collectionId: string,
  appearanceIds: readonly number[],
  { service, hint, act }: SingleAsk,
): Promise<JudgedDraft | null> {
  const db = await database();
  const [request] = await draftRequests(db, collectionId, [appearanceIds[0]!]);
  if (!request) throw new UserError('The picture is not there any more.');
  const draft = service === null ? evidenceDraft(request) : await ask(collectionId, request, { service, hint, act });
  const [kept] = await judged(db, collectionId, [{ request, draft, appearanceIds }], true);
  if (!kept) return null;
  const [before] = await db
    .select({ text: wording.text, roundId: wording.roundId, draft: wording.draft })
    .from(wording)
    .where(and(eq(wording.appearanceId, appearanceIds[0]!), eq(wording.state, 'draft')));
  const others = [before?.text, ...(before?.draft?.alternatives ?? []), ...kept.record.alternatives];
  const alternatives = [...new Set(others)].filter((t): t is string => !!t && t !== kept.text).slice(0, ALTERNATIVES);
  const stored = { ...kept, record: { ...kept.record, alternatives } };
  await transactionWithJobs(collectionId, (tx) =>
    storeDrafts(tx, collectionId, [stored], act, before?.roundId ?? null),
  );
  announceChange({ collectionId, pictures: await picturesAt(db, appearanceIds) });
  return stored;
}

const ALTERNATIVES = 5;

async function ask(
  collectionId: string,
  request: DraftRequest,
  { service: id, hint, act }: SingleAsk,
): Promise<DraftResult> {
  const db = await database();
  const service = await serviceById(db, id!);
  if (!service) throw new UserError('The service was removed. Choose another drafter.');
  if (!(await hasConsent(db, collectionId, service.address)))
    throw new DraftingError('refused', { id: 'drafting.no-consent', values: { host: hostOf(service.address) } });
  const drafter = new ModelDrafter({
    ...{ service, collectionId, roundId: null, prompt: (await instructionsOf(db, collectionId)).label },
    ledger: monthlyBudget,
    faultsOf: async (of, draft) => {
      const text = textOf(draft);
      if (text === null) return [];
      const [faults] = await faultsOf(db, collectionId, [{ appearanceId: of.appearanceId, text }], true);
      return inWordsForModel(text, faults ?? []);
    },
  });
  const wish = { key: `detto-${act}`, priority: SINGLE, hint, wanted: [], current: null };
  return drafter.draft(request, wish, new AbortController().signal);
}
