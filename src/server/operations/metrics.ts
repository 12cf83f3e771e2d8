import { sql } from 'drizzle-orm';
import { Gauge, Registry } from 'prom-client';
import { database } from '../db/database';
import { openQueue } from '../jobs/queue';
import { metrics } from '../metrics';

/** Media type of the answer. */
export const METRICS_TYPE = metrics().registry.contentType;

/**
 * The measures of this process, and of what it shares with others: the queue, surveys, the size of the data. In the text
 * format of Prometheus (0.0.4).
 */
export async function metricsText(): Promise<string> {
  return `${await metrics().registry.metrics()}\n${await (await sharedMeasures()).metrics()}`;
}

async function sharedMeasures(): Promise<Registry> {
  const registry = new Registry();
  const registers = [registry];
  await openQueue();
  const db = await database();
  const rows = async <Row>(query: ReturnType<typeof sql>) =>
    ((await db.execute(query)) as unknown as { rows: Row[] }).rows;
  const jobs = new Gauge({
    name: 'detto_queue_jobs',
    help: 'Jobs in the queue',
    labelNames: ['kind', 'state'],
    registers,
  });
  for (const { kind, state, n } of await rows<{ kind: string; state: string; n: number }>(
    sql`select name kind, state::text, count(*)::int n from pgboss.job group by name, state`,
  ))
    jobs.set({ kind, state }, n);
  const oldest = new Gauge({
    name: 'detto_queue_oldest_seconds',
    help: 'Seconds for which the oldest job waits that may begin',
    registers,
  });
  const [late] = await rows<{ s: number | null }>(
    sql`select extract(epoch from now() - min(greatest(created_on, start_after)))::float8 s from pgboss.job
      where state < 'active' and start_after <= now()`,
  );
  oldest.set(late?.s ?? 0);
  const surveys = new Gauge({ name: 'detto_surveys', help: 'Surveys', labelNames: ['state'], registers });
  for (const { state, n } of await rows<{ state: string; n: number }>(
    sql`select state, count(*)::int n from survey group by state`,
  ))
    surveys.set({ state }, n);
  const drafting = new Gauge({ name: 'detto_rounds', help: 'Rounds of drafts', labelNames: ['state'], registers });
  for (const { state, n } of await rows<{ state: string; n: number }>(
    sql`select state, count(*)::int n from round group by state`,
  ))
    drafting.set({ state }, n);
  const workers = new Gauge({
    name: 'detto_workers',
    help: 'Processes that do jobs on a shared database; 0 where one process has it to itself',
    registers,
  });
  const [alive] = await rows<{ n: number }>(sql`select count(*)::int n from worker_process`);
  workers.set(alive?.n ?? 0);
  // An estimate, because counting a table of millions reads all of it.
  const size = new Gauge({ name: 'detto_rows', help: 'Rows of a table, about', labelNames: ['table'], registers });
  for (const { name, n } of await rows<{ name: string; n: number }>(
    sql`select relname::text name, greatest(reltuples, 0)::float8 n from pg_class
      where relkind = 'r' and relname in ('page', 'picture', 'appearance', 'wording', 'finding') and relnamespace = 'public'::regnamespace`,
  ))
    size.set({ table: name }, n);
  return registry;
}
