import type { Message, MessageValue } from '@/core/model/message';
import type { Strings } from '.';

const PLAIN = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ';
const MARKED = 'ȧƀƈḓḗƒɠħīĵķŀḿƞǿƥɋřşŧŭṽẇẋẏẑȦƁƇḒḖƑƓĦĪĴĶĿḾȠǾƤɊŘŞŦŬṼẆẊẎẐ';
const marked = new Map([...PLAIN].map((letter, i) => [letter, MARKED[i]!]));

/** Letters that nobody types: what bears them has gone through the strings, and what does not has been forgotten there. */
const mark = (text: string) => text.replace(/[a-z]/gi, (letter) => marked.get(letter)!);

/** Stands in for what a sentence is given, so that only the sentence itself is marked. */
const token = (at: number) => `\ue000${at}\ue001`;
const restored = (text: string, given: readonly string[]) =>
  text.replace(/\ue000(\d+)\ue001/g, (_, at: string) => given[Number(at)]!);

function markedMessage(message: Message, render: (message: Message) => string): string {
  const given: string[] = [];
  const withTokens = (value: MessageValue | undefined): MessageValue | undefined => {
    if (typeof value === 'string') return token(given.push(value) - 1);
    if (typeof value !== 'object') return value;
    return Array.isArray(value)
      ? (value as readonly MessageValue[]).map((v) => withTokens(v)!)
      : within(value as Message);
  };
  const within = (m: Message): Message =>
    // A language is named after its tag.
    m.id === 'language'
      ? m
      : { ...m, values: Object.fromEntries(Object.entries(m.values ?? {}).map(([k, v]) => [k, withTokens(v)])) };
  return restored(mark(render(within(message))), given);
}

/** What a function of the strings gives, with the texts that it was given left as they are. */
function markedCall(call: (...given: unknown[]) => unknown, given: unknown[]): unknown {
  const texts = given.map(String);
  try {
    const result = call(...given.map((value, at) => (typeof value === 'string' ? token(at) : value)));
    if (typeof result === 'string' && result.includes('\ue000')) return restored(mark(result), texts);
  } catch {
    // It does more with a text than putting it into a sentence.
  }
  return markAll(call(...given));
}

function markAll(value: unknown): unknown {
  if (typeof value === 'string') return mark(value);
  if (typeof value === 'function')
    return (...given: unknown[]) => markedCall(value as (...given: unknown[]) => unknown, given);
  if (Array.isArray(value)) return value.map(markAll);
  if (value !== null && typeof value === 'object')
    return Object.fromEntries(Object.entries(value).map(([key, own]) => [key, markAll(own)]));
  return value;
}

/** The strings of a language as a pseudo-locale: to see whether any text of the interface stands elsewhere. */
export function pseudo(strings: Strings): Strings {
  const all = markAll(strings) as Strings;
  return { ...all, message: (message) => markedMessage(message, strings.message) };
}
