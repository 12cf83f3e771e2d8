import type { RuleContext } from '../../model/rule-context';

/** UTF-16 code units of a text that rules look at: what no reader hears to its end costs no time either. */
export const MOST_READ = 5_000;

/** A text cut at the bound, never between the halves of a surrogate pair. */
export function cut(text: string): string {
  if (text.length <= MOST_READ) return text;
  const end = /[\ud800-\udbff]/.test(text[MOST_READ - 1]!) ? MOST_READ - 1 : MOST_READ;
  return text.slice(0, end);
}

/** A spot with every text cut at {@link MOST_READ}; the spot itself where none is longer. */
export function readable(context: RuleContext): RuleContext {
  // Asked of every spot of a collection several times, and nearly always false.
  if (
    !hasLong(context.appearance) &&
    !hasLong(context.page) &&
    !hasLong(context.picture) &&
    !hasLong(context.targetTitle)
  )
    return context;
  const appearance = bounded(context.appearance);
  const page = bounded(context.page);
  const picture = bounded(context.picture);
  const targetTitle = bounded(context.targetTitle);
  return { ...context, appearance, page, picture, targetTitle, uncut: longest(context) };
}

/** Length of the words before they were cut, in UTF-16 code units. */
function longest({
  appearance: {
    markup: { alt },
    markup: { ariaLabel },
    markup: { title },
    accessible: { name },
  },
}: RuleContext): number {
  return [alt, ariaLabel, title, name].reduce((most, text) => Math.max(most, text?.length ?? 0), 0);
}

/** How deep the plain data of a spot is nested. */
const DEPTH = 6;

function hasLong(value: unknown, depth = 0): boolean {
  if (typeof value === 'string') return value.length > MOST_READ;
  if (value === null || typeof value !== 'object' || depth > DEPTH) return false;
  for (const key in value) if (hasLong((value as Record<string, unknown>)[key], depth + 1)) return true;
  return false;
}

function bounded<T>(value: T, depth = 0): T {
  if (typeof value === 'string') return cut(value) as T;
  if (value === null || typeof value !== 'object' || depth > DEPTH) return value;
  if (Array.isArray(value)) {
    const out = value.map((v: unknown) => bounded(v, depth + 1));
    return out.some((v, i) => v !== value[i]) ? (out as T) : value;
  }
  let out: Record<string, unknown> | null = null;
  for (const [key, v] of Object.entries(value)) {
    const own: unknown = bounded(v, depth + 1);
    if (own !== v) (out ??= { ...(value as Record<string, unknown>) })[key] = own;
  }
  return (out ?? value) as T;
}
