import { sql } from 'drizzle-orm';
import { page } from '../db/schema';

/** Pages by their paths; slides, sheets, chapters and the pages of a course in their own order. */
export const pageOrder = sql`coalesce(${page.sortKey}, ${page.path})`;
