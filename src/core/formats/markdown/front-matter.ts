import { isMap, isScalar, parseDocument, type YAMLMap } from 'yaml';

/** One value of front matter. */
export interface FrontMatterEntry {
  /** Its keys from the outermost, joined by dots: `cover.image`. */
  key: string;
  value: unknown;
  /** Where the value stands in the file, in UTF-16 code units. */
  start: number;
  end: number;
  /** In a mapping that is written line by line, so that a line can be added to it. */
  isOnOwnLine: boolean;
}

/** Mappings in mappings; what is deeper was made to be in the way. */
const DEEPEST = 5;

/**
 * The values of front matter in YAML 1.2, those in nested mappings too. What cannot be parsed has none.
 *
 * @param offset of `yaml` in its file
 */
export function entriesOf(yaml: string, offset: number): FrontMatterEntry[] {
  const entries: FrontMatterEntry[] = [];
  const visit = (map: YAMLMap, path: readonly string[], isOnOwnLine: boolean) => {
    for (const { key: own, value } of map.items) {
      if (!isScalar(own)) continue;
      const key = [...path, String(own.value)];
      if (isMap(value) && key.length < DEEPEST) visit(value, key, isOnOwnLine && !value.flow);
      if (!isScalar(value)) continue;
      const [start, last] = value.range ?? [0, 0];
      // A block of lines counts the line break that ends it.
      const end = start + yaml.slice(start, last).trimEnd().length;
      entries.push({ key: key.join('.'), value: value.value, start: offset + start, end: offset + end, isOnOwnLine });
    }
  };
  const { contents } = parseDocument(yaml);
  if (isMap(contents)) visit(contents, [], !contents.flow);
  return entries;
}

/** The mapping that a key is in, as its keys; empty for the outermost. */
export const parentOf = (key: string): string => key.slice(0, Math.max(0, key.lastIndexOf('.')));

/** A key within its mapping. */
export const nameOf = (key: string): string => key.slice(key.lastIndexOf('.') + 1);
