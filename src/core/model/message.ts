/**
 * What Detto says, as data: which sentence, and what stands in it. The sentences themselves are in the file of the
 * interface's language (`src/ui/strings`), so what is stored is in no language.
 */
export interface Message {
  /** Key of the sentence, such as `overlong.over`; `plain` has its words in the value `text`. */
  id: string;
  values?: Readonly<Record<string, MessageValue | undefined>>;
}

/** A list is said with commas; a message inside a message is a part of its sentence. */
export type MessageValue = string | number | Message | readonly MessageValue[];

/** Words that come as they are, such as those of an earlier version of Detto. */
export const plain = (text: string): Message => ({ id: 'plain', values: { text } });

/** Several messages as one: "a, and b, and c". @param messages at least one */
export function allOf(messages: readonly Message[]): Message {
  return messages.reduce((first, rest) => ({ id: 'and', values: { first, rest } }));
}

/** A language by its name in the language of the interface. @param tag BCP 47 */
export const languageName = (tag: string): Message => ({ id: 'language', values: { tag } });

/** @param bytes rounded as people say it; a KB has 1,024 */
export function weightOf(bytes: number): Message {
  const megabytes = bytes / 1_048_576;
  if (megabytes >= 1024) return { id: 'weight.gb', values: { n: Math.round(megabytes / 102.4) / 10 } };
  if (megabytes >= 1)
    return { id: 'weight.mb', values: { n: megabytes < 10 ? Math.round(megabytes * 10) / 10 : Math.round(megabytes) } };
  return bytes < 1024
    ? { id: 'weight.bytes', values: { n: bytes } }
    : { id: 'weight.kb', values: { n: Math.round(bytes / 1024) } };
}
