import { diffWords } from 'diff';

/**
 * Two texts in one, to be edited into a third: what they share once, and what each has of its own where it stands in it.
 *
 * @returns the longer one where it holds the other
 */
export function bothTexts(one: string, other: string): string {
  if (one.includes(other)) return one;
  if (other.includes(one)) return other;
  return diffWords(one, other)
    .map((part) => part.value.trim())
    .filter(Boolean)
    .join(' ')
    .replace(/ ([,.;:!?…])/g, '$1');
}
