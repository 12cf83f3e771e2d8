import { sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { carryChanges } from '../changes';
import { log, messageOf } from '../log';
import type { Database, OpenDatabase } from './database';
import { ChangeNotices } from './change-notices';
import { checkDataFolder, DataFolderError } from './data-folder';
import { DatabaseDownError, mayBeTriedAgain } from './database-errors';
import { isNewer, MIGRATIONS } from './migrations';
import * as schema from './schema';

/** Connections of one process. */
const CONNECTIONS = 10;
/** Milliseconds for a connection: a server that does not answer is down. */
const CONNECT_MS = 10_000;
/** Times that a transaction is tried that PostgreSQL gave up for another one's sake. */
const TRIES = 8;
/** The oldest PostgreSQL that the tests run on. */
const OLDEST = 15;

// Counts are `bigint` in PostgreSQL, and far from 2 to the 53rd; the embedded database gives numbers too.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/**
 * Opens a database on a PostgreSQL server and brings its tables up to date, one process after the other.
 *
 * @param folder where files are kept that are not in the database; all processes share it
 * @throws DataFolderError in one sentence when the server cannot be reached or its database cannot be used
 */
export async function openServerDatabase(address: string, folder: string): Promise<OpenDatabase> {
  await checkDataFolder(folder);
  const settings: pg.PoolConfig = {
    connectionString: address,
    max: CONNECTIONS,
    connectionTimeoutMillis: CONNECT_MS,
    keepAlive: true,
    application_name: 'detto',
    // Statements are many and short.
    options: '-c jit=off -c timezone=UTC',
  };
  const pool = new ServerPool(settings);
  // A connection that fails while nothing is asked of it, in the pool or within a transaction, ends nothing: the next
  // statement says it. The pool makes another one.
  const lost = (error: Error) => log.warn({ message: messageOf(error) }, 'a connection to the database was lost');
  pool.on('error', lost).on('connect', (client) => client.on('error', lost));
  const db = retrying(drizzle(pool, { schema, casing: 'snake_case' }) as unknown as Database);
  const notices = new ChangeNotices(settings, pool, {
    receive: (c) => arriving.receive(c),
    missed: () => arriving.missed(),
  });
  const arriving = carryChanges(notices);
  const port: OpenDatabase = {
    db,
    isShared: true,
    exclusively: (name, work) => withLock(settings, name, work),
    async close() {
      carryChanges(null);
      await notices.close();
      if (!pool.ending) await pool.end();
    },
  };
  try {
    await checkVersion(db);
    await port.exclusively('migrations', async () => {
      if (await isNewer(db))
        throw new DataFolderError(
          'other-version',
          `The data in ${nameOf(address)} was kept by a newer Detto. Start that one; nothing was changed.`,
        );
      await migrate(db as never, { migrationsFolder: MIGRATIONS });
    });
    await notices.listen();
    return port;
  } catch (error) {
    await port.close().catch(() => undefined);
    if (error instanceof DataFolderError) throw error;
    let cause: unknown = error;
    while (cause instanceof Error && cause.cause) ({ cause } = cause);
    throw new DataFolderError(
      'unusable',
      `Detto cannot use its database at ${nameOf(address)}: ${reasonOf(cause)}. Check DATABASE_URL, and that the server runs.`,
      { cause: error },
    );
  }
}

type Connected = Parameters<pg.Pool['connect']>[0];

/** Connections of which one that cannot be made is a database that is down, whatever the system calls it. */
class ServerPool extends pg.Pool {
  override connect(): Promise<pg.PoolClient>;
  override connect(connected: Connected): void;
  override connect(connected?: Connected): Promise<pg.PoolClient> | void {
    if (connected) return super.connect((error, client, done) => connected(error && unreachable(error), client, done));
    return super.connect().catch((error: unknown) => {
      throw unreachable(error);
    });
  }
}

const unreachable = (error: unknown) =>
  new DatabaseDownError(`The database cannot be reached (${reasonOf(error)}).`, { cause: error });

/** An address as it may be shown: without the password. */
function nameOf(address: string): string {
  const { host, port, database } = new pg.Client({ connectionString: address });
  return `${host}:${port}/${database ?? ''}`;
}

function reasonOf(error: unknown): string {
  // Node gathers the attempts at all addresses of a name.
  const first = error instanceof AggregateError ? error.errors[0] : error;
  return messageOf(first)
    .split('\n')[0]!
    .replace(/[.\s]+$/, '');
}

async function checkVersion(db: Database): Promise<void> {
  const { rows } = (await db.execute(
    sql`select current_setting('server_version_num')::int / 10000 major`,
  )) as unknown as { rows: { major: number }[] };
  if (rows[0]!.major < OLDEST)
    throw new DataFolderError(
      'other-version',
      `The database server is PostgreSQL ${rows[0]!.major}, and Detto needs ${OLDEST} or newer.`,
    );
}

/**
 * Where transactions run at the same time, two may wait for each other (40P01, `deadlock_detected`), and PostgreSQL gives
 * one of them up: nothing of it was done, and it is done again. What a transaction does besides the database has to bear that.
 */
function retrying(db: Database): Database {
  const once = db.transaction.bind(db);
  db.transaction = async (work, settings) => {
    for (let attempt = 1; ; attempt++)
      try {
        return await once(work, settings);
      } catch (error) {
        if (attempt === TRIES || !mayBeTriedAgain(error)) throw error;
        await new Promise((resolve) => setTimeout(resolve, 20 * attempt * Math.random()));
      }
  };
  return db;
}

/** The lock belongs to a connection of its own, and goes with it, so that a process that ends leaves none. */
async function withLock<T>(settings: pg.PoolConfig, name: string, work: () => Promise<T>): Promise<T> {
  const client = new pg.Client(settings);
  // What holds the lock may be lost while nothing is asked of it.
  client.on('error', (error) => log.warn({ message: messageOf(error) }, 'a connection with a lock was lost'));
  await client.connect();
  try {
    await client.query('select pg_advisory_lock(hashtextextended($1, 0))', [`detto ${name}`]);
    return await work();
  } finally {
    await client.end().catch(() => undefined);
  }
}
