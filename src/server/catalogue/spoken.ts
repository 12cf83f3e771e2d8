import { sql } from 'drizzle-orm';
import { appearance } from '../db/schema';

/**
 * What is heard at an appearance, as written, in the database: `''` where it is decorative, null where alt text is missing.
 * It says what {@link import('./lines').heard} says, without the whole reading.
 */
export const spoken = sql<string | null>`case ${appearance.state}
  when 'missing' then null
  when 'decorative' then ''
  else coalesce(${appearance.words}, case ${appearance.reading}->'accessible'->>'nameSource'
    when 'alt' then ${appearance.reading}->'markup'->>'alt'
    when 'aria-label' then ${appearance.reading}->'markup'->>'ariaLabel'
    when 'title' then ${appearance.reading}->'markup'->>'title'
  end, ${appearance.reading}->'accessible'->>'name') end`;
