import { readFileSync } from 'node:fs';
import path from 'node:path';
import { sql } from 'drizzle-orm';
import type { Database } from './database';

export const MIGRATIONS = path.join(process.cwd(), 'drizzle');

/** Whether a database has tables of a newer Detto, which may hold what this one would lose. */
export async function isNewer(db: Database): Promise<boolean> {
  const journal = JSON.parse(readFileSync(path.join(MIGRATIONS, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number }[];
  };
  const known = Math.max(...journal.entries.map((e) => e.when));
  const { rows: tables } = (await db.execute(
    sql`select to_regclass('drizzle.__drizzle_migrations')::text found`,
  )) as unknown as { rows: { found: string | null }[] };
  if (!tables[0]!.found) return false;
  const { rows } = (await db.execute(
    sql`select max(created_at)::float8 latest from drizzle.__drizzle_migrations`,
  )) as unknown as { rows: { latest: number | null }[] };
  return (rows[0]!.latest ?? 0) > known;
}
