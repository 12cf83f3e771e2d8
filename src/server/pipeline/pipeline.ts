import { eq, lt } from 'drizzle-orm';
import { plain } from '@/core/model/message';
import { PICTURE_RULES } from '@/core/rules';
import { analysePictures } from '../analysis/analyse-pictures';
import { groupPictures } from '../analysis/grouping';
import { updatePurposes } from '../analysis/purposes';
import { recognisePictures } from '../analysis/recognition';
import { AUDIT_VERSION, auditAll, countPhrases } from '../audit/audit-collection';
import { countBrief } from '../brief/stored-brief';
import { failBulk, performBulk } from '../bulk/bulk';
import { closeAuditor } from '../audit/audit-worker';
import { announceChange } from '../changes';
import { database } from '../db/database';
import { failDelivery } from '../delivery/deliveries';
import { performDelivery, removeLeftDownloads } from '../delivery/perform-delivery';
import { performPreview } from '../delivery/preview';
import { removePreparedOf } from '../delivery/prepared-files';
import { performRounds } from '../drafting/perform-rounds';
import { draftNewPictures } from '../drafting/plan';
import { meansDatabaseDown } from '../db/database-errors';
import { collection, survey } from '../db/schema';
import { removeLeftovers } from '../intake/uploads';
import { reasonOf } from '../log';
import { concludeSurveys, failSurvey, failSurveys, gather } from '../survey/surveys';
import { closeReaders } from '../workers/reader-pool';
import type { JobKind, Payload } from '../jobs/kinds';
import { enqueue, enqueueRecheck, isEnqueued } from '../jobs/queue';
import { Worker, type GiveUp, type Handlers } from '../jobs/worker';

/**
 * What follows what. A survey gathers pages and pictures; then all rules check what is there; then the pictures are
 * analysed, which changes purposes, groups and the findings of the rules that look at pictures; then what is written in
 * them is read, and the same follows again. The order of work comes with every audit.
 */
const HANDLERS: Handlers = {
  async survey({ collectionId, surveyId }, job) {
    if (await gather(surveyId, job)) await enqueue('audit', { collectionId });
  },

  async audit({ collectionId }, job) {
    try {
      await auditAll(collectionId, { progress: job.report });
    } catch (error) {
      // The job is tried again; nobody has to wait for that to see that something is wrong.
      if (!meansDatabaseDown(error)) await failSurveys(collectionId, reasonOf(error));
      throw error;
    }
    // First, so that nobody finds the survey done and nothing under way.
    await enqueue('analysis', { collectionId, surveyed: true });
    await concludeSurveys(collectionId);
    announceChange({ collectionId, pictures: null });
  },

  async analysis({ collectionId, surveyed }, { signal, report }) {
    // Enqueued before the first result is stored, so that a process that ends in between concludes from it all the same.
    const conclude = () => enqueue('conclusions', { collectionId });
    if (surveyed) await conclude();
    await analysePictures(collectionId, signal, conclude, report);
    if (!signal.aborted) await enqueue('recognition', { collectionId });
  },

  async recognition({ collectionId }, { signal }) {
    await recognisePictures(collectionId, signal, () => enqueue('conclusions', { collectionId }));
    // By now all is known that drafts are made from.
    if (!signal.aborted) await draftNewPictures(collectionId);
  },

  async conclusions({ collectionId }, { signal }) {
    await groupPictures(collectionId);
    await updatePurposes(collectionId, signal);
    if (!signal.aborted) await enqueueRecheck(collectionId, PICTURE_RULES);
  },

  async recheck({ collectionId, rules }, job) {
    await auditAll(collectionId, { only: rules, progress: job.report });
    announceChange({ collectionId, pictures: null });
  },

  async phrases({ collectionId }) {
    if (await countPhrases(await database(), collectionId)) await enqueueRecheck(collectionId, ['boilerplate']);
  },

  async bulk({ collectionId, act }, { signal, report }) {
    await performBulk(collectionId, act, { signal, report });
  },

  async brief({ collectionId }) {
    await countBrief(collectionId);
  },

  async rounds({ collectionId }, { signal, report }) {
    await performRounds(collectionId, { signal, report });
  },

  async preview({ collectionId }, job) {
    await performPreview(collectionId, job);
  },

  async delivery({ collectionId, delivery }, job) {
    await performDelivery(collectionId, delivery, job);
  },
};

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoWorker?: Worker | null };

/**
 * Begins to do what is in the queue, after what the last stop or an update of Detto has left to do. It does not wait for
 * the queue, because Detto has to start on a full disk as well, where nothing can be written yet.
 *
 * @param kinds the kinds that this process does; all when not given
 */
export function startJobs(kinds?: readonly JobKind[]): void {
  if (shared.dettoWorker) return;
  shared.dettoWorker = new Worker(HANDLERS, enqueueLeft, giveUp, kinds);
  shared.dettoWorker.start();
}

/** What was under way in a data folder of a Detto without a queue, and what a new version of Detto does differently. */
async function enqueueLeft(): Promise<void> {
  await removeLeftovers(Date.now());
  const db = await database();
  const running = await db
    .select({ surveyId: survey.id, collectionId: survey.collectionId })
    .from(survey)
    .where(eq(survey.state, 'running'));
  for (const { surveyId, collectionId } of running)
    if (!(await isEnqueued('survey', collectionId)) && !(await isEnqueued('audit', collectionId)))
      await enqueue('survey', { collectionId, surveyId });
  const old = await db.select({ id: collection.id }).from(collection).where(lt(collection.auditVersion, AUDIT_VERSION));
  for (const { id } of old) await enqueue('audit', { collectionId: id });
  const collections = await db.select({ id: collection.id }).from(collection);
  await removeLeftDownloads();
  await removePreparedOf(new Set(collections.map((c) => c.id)));
  // A newer analysis looks at every picture again; where there is nothing new, this is one query.
  for (const { id } of collections) await enqueue('analysis', { collectionId: id, surveyed: false });
}

/** A survey whose job is given up has failed; it would say for ever that it runs. */
const giveUp: GiveUp = async (kind, payload, message) => {
  if (kind === 'survey') await failSurvey((payload as Payload['survey']).surveyId, plain(message));
  if (kind === 'delivery') await failDelivery((payload as Payload['delivery']).delivery, plain(message));
  if (kind === 'bulk') await failBulk(payload.collectionId, (payload as Payload['bulk']).act);
};

/** Ends what runs without completing it: the next start goes on. */
export async function stopJobs(): Promise<void> {
  const { dettoWorker } = shared;
  shared.dettoWorker = null;
  await dettoWorker?.end();
  closeReaders();
  closeAuditor();
}

/** Resolves when there is nothing left to do that may begin now; for tests and benchmarks. */
export async function jobsIdle(): Promise<void> {
  await shared.dettoWorker?.idle();
}
