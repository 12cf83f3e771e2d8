/**
 * `survey-once ADDRESS`: surveys one site on the data folder that the environment names, taking up what an
 * earlier run left, and sends what the database holds in the end. For trials of what a kill leaves behind.
 */
import { database } from '@/server/db/database';

// As the server starts: the database opens while all else is loaded.
const opening = database();
const { count, countDistinct, eq } = await import('drizzle-orm');
const { insertCollection, collectionById } = await import('@/server/catalogue/collections');
const { closeFiles } = await import('@/server/blobs/blobs');
const { closeDatabase } = await import('@/server/db/database');
const { appearance, page, picture, survey, visit } = await import('@/server/db/schema');
const { startJobs, stopJobs } = await import('@/server/pipeline/pipeline');
const { resumeSurvey, startSurvey, surveyOver } = await import('@/server/survey/surveys');
const { latestSurvey, surveyProgress } = await import('@/server/survey/survey-progress');

const ID = 'killed';
const address = process.argv[2]!;
const db = await opening;
if (!(await collectionById(ID)))
  await insertCollection({ name: ID, kind: 'site', root: address, maxPages: 100_000, maxDepth: 1000 });
if ((await latestSurvey(ID)) === null) await startSurvey(ID);
startJobs(['survey', 'audit']);
const id = (await latestSurvey(ID))!;
const begun = performance.now();
await surveyOver(id);
// Killed twice before a page was settled, it waits for somebody to resume it.
while ((await surveyProgress(id))!.state === 'stopped') {
  await resumeSurvey(id);
  await surveyOver(id);
}
const seconds = (performance.now() - begun) / 1000;
const { state } = (await surveyProgress(id))!;
const number = async (rows: PromiseLike<{ n: number }[]>) => (await rows)[0]!.n;
const result = {
  state,
  seconds,
  pages: await number(db.select({ n: count() }).from(page)),
  paths: await number(db.select({ n: countDistinct(page.path) }).from(page)),
  pictures: await number(db.select({ n: count() }).from(picture)),
  appearances: await number(db.select({ n: count() }).from(appearance).where(eq(appearance.gone, false))),
  surveys: await number(db.select({ n: count() }).from(survey)),
  met: await number(db.select({ n: count() }).from(visit).where(eq(visit.surveyId, id))),
  waiting: await number(db.select({ n: count() }).from(visit).where(eq(visit.state, 'waiting'))),
};
await stopJobs();
await closeFiles();
await closeDatabase();
process.send!(JSON.stringify(result), () => process.exit(0));
