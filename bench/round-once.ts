/**
 * `round-once FOLDER SERVICE PER_MINUTE`: drafts all pictures of a folder in one round on the data folder that the environment
 * names, taking up what an earlier run left; sends how the round stands in the end. For benchmarks and trials of kills.
 */
import { eq } from 'drizzle-orm';
import { ServiceSettings, RoundOrder } from '../src/contract/drafting';
import { EVERYTHING } from '../src/contract/galley';
import { closeFiles } from '../src/server/blobs/blobs';
import { collectionById, insertCollection } from '../src/server/catalogue/collections';
import { galleyLines } from '../src/server/catalogue/lines';
import { closeDatabase, database } from '../src/server/db/database';
import { round, wording } from '../src/server/db/schema';
import { listRounds, startRound } from '../src/server/drafting/rounds';
import { addService } from '../src/server/drafting/services';
import { startJobs, stopJobs } from '../src/server/pipeline/pipeline';
import { startSurvey, surveyOver } from '../src/server/survey/surveys';

const ID = 'rounds';
const [folder, address, perMinute] = process.argv.slice(2) as [string, string, string];
const db = await database();
if (!(await collectionById(ID))) {
  startJobs(['survey', 'audit']);
  await insertCollection({ name: ID, kind: 'folder', root: folder, maxPages: 1_000_000, maxDepth: 9 });
  await surveyOver(await startSurvey(ID));
  await stopJobs();
  const service = await addService(
    ServiceSettings.parse({
      ...{ name: 'Stand-in', address, model: 'harbour-vision', key: 'harbour-demo-key', priceIn: 2.5, priceOut: 10 },
      ...{ atOnce: 8, perMinute: Number(perMinute) },
    }),
  );
  const order = RoundOrder.parse({ target: { kind: 'view', view: EVERYTHING, except: [] }, service });
  await startRound(ID, order, true);
  process.send!('ready');
}
const begun = performance.now();
startJobs(['rounds']);
const galley: number[] = [];
for (;;) {
  const [row] = await db.select({ state: round.state }).from(round).where(eq(round.collectionId, ID));
  if (row?.state !== 'running') break;
  const asked = performance.now();
  await galleyLines(ID, EVERYTHING, 0, 100);
  galley.push(performance.now() - asked);
  process.send!(`memory ${process.memoryUsage().rss}`);
  await new Promise((resolve) => setTimeout(resolve, 500));
}
const seconds = (performance.now() - begun) / 1000;
const [own] = await listRounds(ID);
const drafts = await db
  .select({ id: wording.id, at: wording.appearanceId })
  .from(wording)
  .where(eq(wording.state, 'draft'));
await stopJobs();
await closeFiles();
await closeDatabase();
const places = new Set(drafts.map((d) => d.at)).size;
process.send!(JSON.stringify({ ...own, seconds, drafts: drafts.length, places, galley: Math.max(...galley) }), () =>
  process.exit(0),
);
