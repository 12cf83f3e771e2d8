import { sql, type SQL } from 'drizzle-orm';
import { UserError } from '@/core/model/user-error';
import type { Database, OpenDatabase } from '../db/database';
import { makeQueue } from '../jobs/queue';

/** What says who works at the moment, and is nothing to take along. */
const OF_PROCESSES = ['worker_process', 'job_claim', 'lane_hold', 'rate_limit'];
/** Rows in one statement; the embedded database keeps the memory that its largest one took. */
const PORTION = 300;

interface Table {
  /** With its schema, quoted where that is needed. */
  name: string;
  columns: string[];
  key: string[];
  /** Columns that number themselves. */
  numbered: string[];
}

/** What a move has done. */
export interface MoveReport {
  tables: number;
  rows: number;
}

/**
 * Copies all that one database holds into another one, table by table in the order of their references, and compares both.
 * Files are not in the database and stay where they are. A copy that was broken off is taken up: what is there stays. Values
 * pass as the text of PostgreSQL's own JSON, so that none of them is read by anything in between.
 *
 * @param progress hears the table, and how many rows were copied in all
 * @throws UserError when the target holds other collections, or both differ in the end; nothing at the source is changed
 */
export async function moveData(
  from: OpenDatabase,
  to: OpenDatabase,
  progress: (table: string, rows: number) => void,
): Promise<MoveReport> {
  await refuseOthers(from.db, to.db);
  await Promise.all([makeQueue(from), makeQueue(to)]);
  const tables = await tablesOf(from.db);
  let rows = 0;
  for (const table of tables) {
    for (let last: string | null = null; ;) {
      const portion: Portion = await readPortion(from.db, table, last);
      if (portion.rows === null) break;
      await insert(to.db, table, portion.rows);
      rows += portion.n;
      last = portion.last;
      progress(table.name, rows);
    }
    for (const column of table.numbered) await continueNumbers(to.db, table.name, column);
  }
  for (const table of tables) {
    const [here, there] = await Promise.all([printOf(from.db, table), printOf(to.db, table)]);
    if (here !== there) throw new UserError({ id: 'move.differs', values: { table: table.name } });
  }
  return { tables: tables.length, rows };
}

const rowsOf = async <Row>(db: Database, query: SQL): Promise<Row[]> =>
  ((await db.execute(query)) as unknown as { rows: Row[] }).rows;

async function refuseOthers(from: Database, to: Database): Promise<void> {
  const ids = async (db: Database) =>
    (await rowsOf<{ id: string }>(db, sql`select id from collection`)).map((r) => r.id);
  const own = new Set(await ids(from));
  const other = (await ids(to)).find((id) => !own.has(id));
  if (other !== undefined) throw new UserError({ id: 'move.occupied', values: { collection: other } });
}

/** The tables with their keys, each after those that it refers to. */
async function tablesOf(db: Database): Promise<Table[]> {
  const found = await rowsOf<Table & { refers: string[] }>(
    db,
    sql`select c.oid::regclass::text name,
      array(select attname::text from pg_attribute a where a.attrelid = c.oid and attnum > 0 and not attisdropped
        and attgenerated = '' order by attnum) columns,
      array(select attname::text from pg_index i join pg_attribute a on a.attrelid = c.oid and a.attnum = any(i.indkey)
        where i.indrelid = c.oid and i.indisprimary order by array_position(i.indkey::int2[], a.attnum)) key,
      array(select attname::text from pg_attribute a where a.attrelid = c.oid and attidentity <> '') numbered,
      array(select distinct confrelid::regclass::text from pg_constraint f where f.conrelid = c.oid and contype = 'f'
        and confrelid <> c.oid) refers
    from pg_class c join pg_namespace s on s.oid = c.relnamespace
    where (s.nspname = 'public' and c.relkind = 'r') or (s.nspname = 'pgboss' and c.relname = 'job')
    order by 1`,
  );
  const left = found.filter((t) => !OF_PROCESSES.includes(t.name));
  const ordered: Table[] = [];
  while (left.length > 0) {
    const waiting = new Set(left.map((t) => t.name));
    const next = left.findIndex((t) => !t.refers.some((r) => waiting.has(r)));
    ordered.push(...left.splice(Math.max(0, next), 1));
  }
  return ordered;
}

const quoted = (names: readonly string[]) =>
  sql.join(
    names.map((n) => sql.identifier(n)),
    sql`, `,
  );

interface Portion {
  /** As a JSON array; null after the last one. */
  rows: string | null;
  /** The key of the last one, as a JSON object. */
  last: string | null;
  n: number;
}

async function readPortion(db: Database, { name, key }: Table, last: string | null): Promise<Portion> {
  const table = sql.raw(name);
  const keys = quoted(key);
  const after =
    last === null
      ? sql``
      : sql`where (${keys}) > (select ${keys} from json_populate_record(null::${table}, ${last}::json))`;
  const descending = sql.join(
    key.map((k) => sql`${sql.identifier(k)} desc`),
    sql`, `,
  );
  const [portion] = await rowsOf<Portion>(
    db,
    sql`with t as (select * from ${table} ${after} order by ${keys} limit ${PORTION})
      select json_agg(t)::text rows, count(*)::int n,
        (select row_to_json(k)::text from (select ${keys} from t order by ${descending} limit 1) k) last from t`,
  );
  return portion!;
}

async function insert(db: Database, { name, columns, numbered }: Table, rows: string): Promise<void> {
  const table = sql.raw(name);
  const own = numbered.length > 0 ? sql`overriding system value` : sql``;
  await db.execute(sql`insert into ${table} (${quoted(columns)}) ${own}
    select ${quoted(columns)} from json_populate_recordset(null::${table}, ${rows}::json) on conflict do nothing`);
}

/** The next row gets a number after those that were copied. */
async function continueNumbers(db: Database, name: string, column: string): Promise<void> {
  await db.execute(sql`select setval(pg_get_serial_sequence(${name}, ${column}), greatest(m.n, 1), m.n is not null)
    from (select max(${sql.identifier(column)}) n from ${sql.raw(name)}) m`);
}

/** What tells the content of a table from another one's. */
async function printOf(db: Database, { name, columns, key }: Table): Promise<string> {
  const [print] = await rowsOf<{ print: string }>(
    db,
    sql`select count(*) || ' ' || coalesce(md5(string_agg(md5(row_to_json(t)::text), '' order by ${quoted(key)})), '') print
      from (select ${quoted(columns)} from ${sql.raw(name)}) t`,
  );
  return print!.print;
}
