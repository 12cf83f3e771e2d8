import { getTableColumns, sql, type SQL } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import type { Queryable } from './database';

/** Column names are in camel case in the schema, and snake case in the database (`casing` of the client). */
export const snake = (name: string): string => name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

const identifiers = (names: readonly string[]) =>
  sql.join(
    names.map((name) => sql.identifier(snake(name))),
    sql`, `,
  );

/** Texts as PostgreSQL takes them in `jsonb`: without NUL and without halves of surrogate pairs. */
export function storable(value: unknown): string {
  return JSON.stringify(value).replace(/\\(?:\\|u0000|ud[89a-f][0-9a-f]{2})/gi, (escape) =>
    escape === '\\\\' ? escape : '\ufffd',
  );
}

/** `inArray` for any number of ids: as one value, because a statement takes only so many and reads each by itself. */
export const among = (column: PgColumn, ids: readonly number[]): SQL => sql`${column} = any(${sql.param(ids)}::int[])`;

/** Rows in one statement: the embedded database keeps the memory that its largest one took. */
const MOST_ROWS = 500;

/**
 * Inserts many rows in few statements that name each column once, which on the embedded database costs a fifth of
 * those with values.
 *
 * @param rows all with the keys of the first
 * @param tail what follows the rows: `on conflict …`, `returning …`
 */
export async function insertRows<T extends PgTable, R = Record<string, unknown>>(
  tx: Queryable,
  table: T,
  rows: readonly T['$inferInsert'][],
  tail: SQL = sql``,
): Promise<R[]> {
  if (rows.length > MOST_ROWS) {
    const first = await insertRows<T, R>(tx, table, rows.slice(0, MOST_ROWS), tail);
    return first.concat(await insertRows<T, R>(tx, table, rows.slice(MOST_ROWS), tail));
  }
  if (rows.length === 0) return [];
  const columns = getTableColumns(table);
  const keys = Object.keys(rows[0]!);
  const typed = sql.join(
    keys.map((key) => sql`${sql.identifier(key)} ${sql.raw(columns[key]!.getSQLType())}`),
    sql`, `,
  );
  const chosen = sql.join(
    keys.map((key) => sql`r.${sql.identifier(key)}`),
    sql`, `,
  );
  const result = await tx.execute(sql`
    insert into ${table} (${identifiers(keys)})
    select ${chosen} from json_to_recordset(${storable(rows)}::json) as r(${typed})
    ${tail}`);
  return (result as unknown as { rows: R[] }).rows;
}

/**
 * Updates columns of rows by their ids in one statement, and only of rows in which one of them differs: one that is
 * written again costs an entry in each index.
 *
 * @param rows with `id`, by the names that the columns have in the database
 */
export async function updateChangedRows<T extends PgTable>(
  tx: Queryable,
  table: T,
  columns: readonly (keyof T['$inferInsert'] & string)[],
  rows: readonly { id: number }[],
): Promise<void> {
  if (rows.length === 0) return;
  const known = getTableColumns(table);
  const names = columns.map((name) => sql.identifier(snake(name)));
  const list = (of: (name: SQL) => SQL) =>
    sql.join(
      names.map((name) => of(sql`${name}`)),
      sql`, `,
    );
  const types = columns.map((name, i) => sql`${names[i]} ${sql.raw(known[name]!.getSQLType())}`);
  await tx.execute(sql`
    update ${table} set (${list((name) => name)}) = row(${list((name) => sql`r.${name}`)})
    from json_to_recordset(${storable(rows)}::json) as r(id int, ${sql.join(types, sql`, `)})
    where ${table}.id = r.id and (${list((name) => sql`${table}.${name}`)}) is distinct from (${list((name) => sql`r.${name}`)})`);
}

/** `on conflict (…) do update set …` with the values that the insert proposed. */
export function onConflictUpdate<T extends PgTable>(
  target: (keyof T['$inferInsert'] & string)[],
  update: (keyof T['$inferInsert'] & string)[],
  more: SQL = sql``,
): SQL {
  const set = sql.join(
    update.map((name) => sql`${sql.identifier(snake(name))} = excluded.${sql.identifier(snake(name))}`),
    sql`, `,
  );
  return sql`on conflict (${identifiers(target)}) do update set ${set}${more}`;
}
