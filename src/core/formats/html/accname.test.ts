import { readFileSync } from 'node:fs';
import path from 'node:path';
import { NameIndex, exposureOf } from './accname';
import { parseHtml } from './parse';
import { attr, childrenOf, elementsOf, isElement, type Element, type Node } from './tree';
import { collapse } from '../../white-space';

interface Case {
  id: string;
  html: string;
  selector: string;
  absent?: boolean;
  chromium?: { role: string | null; name: string | null; nameSource: string | null; ignored: boolean };
}

/** What Chromium 156 answered through its accessibility tree for each snippet. */
const { cases } = JSON.parse(readFileSync(path.join(import.meta.dirname, 'accname-cases.json'), 'utf8')) as {
  cases: Case[];
};

/** What a static reading cannot know, one reason each; every other case has to agree. */
const BEYOND_SOURCE: Record<string, string> = {
  'shadow-dom-img': 'the element is made by a script',
  'js-inserted': 'the element is made by a script',
  'css-before-content-url-alt-link': 'the name stands in a style sheet',
  'alt-on-video': 'a name from Chromium’s own interface, in its own language',
  'video-poster-controls': 'a name from Chromium’s own interface, in its own language',
};

const SOURCES: Record<string, string> = {
  'aria-labelledby': 'relatedElement:aria-labelledby',
  'aria-label': 'attribute:aria-label',
  alt: 'attribute:alt',
  title: 'attribute:title',
  value: 'attribute:value',
  'svg-title': 'relatedElement:title',
  contents: 'contents',
  default: 'attribute:type',
};

function find(root: Node, id: string): Element | undefined {
  const todo: Node[] = [root];
  while (todo.length > 0) {
    const node = todo.pop()!;
    if (isElement(node) && attr(node, 'id') === id) return node;
    todo.push(...childrenOf(node));
  }
  return undefined;
}

describe('accessible names agree with Chromium’s accessibility tree', () => {
  test('there are 171 cases', () => expect(cases).toHaveLength(171));

  for (const c of cases.filter((c) => !(c.id in BEYOND_SOURCE)))
    test(c.id, () => {
      const { document } = parseHtml(`<!doctype html><html lang=en><body>${c.html}</body>`);
      const element = find(document, 't');
      if (c.absent || !c.chromium) {
        expect(element).toBeUndefined();
        return;
      }
      const got = exposureOf(element!, new NameIndex(elementsOf(document)));
      expect(got.ignored).toBe(c.chromium.ignored);
      if (c.chromium.ignored) return;
      expect(got.role).toBe(c.chromium.role);
      expect(collapse(got.name)).toBe(collapse(c.chromium.name ?? ''));
      if (got.nameSource && got.name && got.nameSource !== 'label')
        expect(SOURCES[got.nameSource]).toBe(c.chromium.nameSource);
    });

  test.each(Object.entries(BEYOND_SOURCE))('%s is beyond the source: %s', (id) => {
    expect(cases.some((c) => c.id === id)).toBe(true);
  });
});
