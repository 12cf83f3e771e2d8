import { sql } from 'drizzle-orm';
import { database } from '../db/database';
import { rateLimit } from '../db/schema';
import type { LimitsPort } from '../ports/limits';

const now = sql`clock_timestamp()`;
const after = (ms: number) => sql`clock_timestamp() + make_interval(secs => ${ms / 1000})`;

/** Where several processes ask: a row for each key, by the clock of the database. */
export class SharedLimits implements LimitsPort {
  async take(key: string, spacingMs: number): Promise<number> {
    const db = await database();
    const taken = await db
      .insert(rateLimit)
      .values({ key, freeAt: after(spacingMs) })
      .onConflictDoUpdate({
        target: rateLimit.key,
        set: { freeAt: after(spacingMs) },
        setWhere: sql`${rateLimit.freeAt} <= ${now}`,
      })
      .returning({ key: rateLimit.key });
    if (taken.length > 0) return 0;
    const [row] = await db
      .select({ ms: sql`extract(epoch from ${rateLimit.freeAt} - ${now}) * 1000`.mapWith(Number) })
      .from(rateLimit)
      .where(sql`${rateLimit.key} = ${key}`);
    return Math.max(1, row?.ms ?? 1);
  }

  async hold(key: string, ms: number): Promise<void> {
    const db = await database();
    await db
      .insert(rateLimit)
      .values({ key, freeAt: after(ms) })
      .onConflictDoUpdate({ target: rateLimit.key, set: { freeAt: sql`greatest(${rateLimit.freeAt}, ${after(ms)})` } });
  }
}
