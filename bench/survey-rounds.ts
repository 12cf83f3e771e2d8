/** `survey-rounds ADDRESS ROUNDS`: surveys a site again and again, each time as a new collection; sends the times. */
import { closeFiles } from '../src/server/blobs/blobs';
import { insertCollection } from '../src/server/catalogue/collections';
import { closeDatabase, database } from '../src/server/db/database';
import { startJobs, stopJobs } from '../src/server/pipeline/pipeline';
import { surveyProgress } from '../src/server/survey/survey-progress';
import { startSurvey, surveyOver } from '../src/server/survey/surveys';
import type { Scope } from '../src/contract/scope';

const [root, rounds, reading = 'auto'] = process.argv.slice(2) as [string, string, Scope['reading']?];
await database();
// Analysis comes after a survey, and would weigh on the next round.
startJobs(['survey', 'audit']);
const told: { pages: number; ms: number }[] = [];
for (let i = 0; i < Number(rounds); i++) {
  const name = `Round ${i}`;
  const c = await insertCollection({ name, kind: 'site', root, maxPages: 100_000, maxDepth: 1000, scope: { reading } });
  const begun = performance.now();
  const id = await startSurvey(c.id);
  await surveyOver(id);
  const ms = performance.now() - begun;
  const { state, pagesDone, message } = (await surveyProgress(id))!;
  if (state !== 'done') throw new Error(message?.id ?? state);
  told.push({ pages: pagesDone, ms });
}
await stopJobs();
await closeFiles();
await closeDatabase();
process.send!(JSON.stringify(told), () => process.exit(0));
