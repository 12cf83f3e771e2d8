import { positionOf } from '../../model/appearance';
import { addRendered, readPage } from './read-page';
import { COMPUTED_STYLES, renderedTree, type DomSnapshot } from './snapshot';

interface Painted {
  name: string;
  attributes?: Record<string, string>;
  text?: string;
  /** x, y, width, height; no box when it is not painted. */
  box?: [number, number, number, number];
  style?: Partial<Record<(typeof COMPUTED_STYLES)[number], string>>;
  pseudo?: 'before' | 'after';
  shadow?: boolean;
  current?: string;
  children?: Painted[];
}

/** A snapshot as the protocol gives it (Chrome DevTools Protocol, DOMSnapshot.captureSnapshot), by hand. */
function snapshotOf(body: Painted[]): DomSnapshot {
  const strings: string[] = [];
  const at = (text: string) => (strings.includes(text) ? strings.indexOf(text) : strings.push(text) - 1);
  const nodes = {
    parentIndex: [] as number[],
    nodeType: [] as number[],
    nodeName: [] as number[],
    nodeValue: [] as number[],
    attributes: [] as number[][],
    pseudoType: { index: [] as number[], value: [] as number[] },
    shadowRootType: { index: [] as number[], value: [] as number[] },
    currentSourceURL: { index: [] as number[], value: [] as number[] },
  };
  const layout = { nodeIndex: [] as number[], styles: [] as number[][], bounds: [] as number[][] };
  const add = (parent: number, p: Painted) => {
    const type = p.name === '#document' ? 9 : p.text !== undefined ? 3 : p.shadow ? 11 : 1;
    const index = nodes.parentIndex.push(parent) - 1;
    nodes.nodeType.push(type);
    nodes.nodeName.push(at(p.name));
    nodes.nodeValue.push(at(p.text ?? ''));
    nodes.attributes.push(Object.entries(p.attributes ?? {}).flatMap(([name, value]) => [at(name), at(value)]));
    const rare = (key: 'pseudoType' | 'shadowRootType' | 'currentSourceURL', value: string | undefined) => {
      if (value === undefined) return;
      nodes[key].index.push(index);
      nodes[key].value.push(at(value));
    };
    rare('pseudoType', p.pseudo);
    rare('shadowRootType', p.shadow ? 'closed' : undefined);
    rare('currentSourceURL', p.current);
    if (p.box) {
      layout.nodeIndex.push(index);
      layout.bounds.push(p.box);
      layout.styles.push(COMPUTED_STYLES.map((s) => at(p.style?.[s] ?? '')));
    }
    for (const child of p.children ?? []) add(index, child);
  };
  const html = { name: 'HTML', attributes: { lang: 'en' }, children: [{ name: 'BODY', children: body }] };
  add(-1, { name: '#document', children: [html] });
  const address = at('https://skerry.example/page');
  return { documents: [{ documentURL: address, baseURL: address, nodes, layout }], strings };
}

const box: Painted['box'] = [10, 20, 300, 200];
const image = (src: string, more: Partial<Painted> = {}, attributes: Record<string, string> = {}): Painted => ({
  name: 'IMG',
  attributes: { src, ...attributes },
  box,
  ...more,
});
const read = (source: string, body: Painted[]) =>
  addRendered(readPage(Buffer.from(`<!doctype html><html lang=en><body>${source}`), 'utf-8'), snapshotOf(body))
    .appearances;

test('what stands in both keeps its place in the source and is heard as the browser has it', () => {
  const [first, second] = read('<img src=a.png alt=Before><img src=b.png>', [
    image('a.png', {}, { alt: 'After' }),
    image('b.png', { box: [0, 900, 50, 40] }),
  ]);
  expect(first).toMatchObject({
    location: { kind: 'html', start: 35, end: 61 },
    order: 0,
    accessible: { name: 'After' },
    layout: { width: 300, height: 200, fold: 'above' },
  });
  expect(second).toMatchObject({ location: { kind: 'html' }, order: 1, state: 'missing', layout: { fold: 'below' } });
});

test('what only a script puts there comes after the rest and has no place in the source', () => {
  const found = read('<img src=a.png alt=A>', [image('z.png', {}, { alt: 'Z' }), image('a.png', {}, { alt: 'A' })]);
  expect(found.map((a) => [a.markup.src, a.location.kind, a.order, positionOf(a).line])).toEqual([
    ['a.png', 'html', 0, 1],
    ['z.png', 'script', 1, 0],
  ]);
});

test('a picture that a script brings in late is the same appearance, a fallback for readers without scripts is not', () => {
  const source =
    '<p><img src="data:image/gif;base64,AA" data-src=late.png alt=Late></p><noscript><img src=late.png alt=Late></noscript>';
  const [late, fallback] = read(source, [{ name: 'P', box, children: [image('late.png', {}, { alt: 'Late' })] }]);
  expect(late).toMatchObject({
    location: { kind: 'html' },
    markup: { src: 'late.png', lazy: false },
    accessible: { hidden: null },
    layout: { width: 300 },
  });
  expect(fallback).toMatchObject({
    location: { kind: 'html' },
    accessible: { hidden: 'no script' },
    layout: { width: null },
  });
});

test('what a style sheet or a script takes away stays, hidden', () => {
  const hidden = image('a.png', {}, { alt: 'A' });
  delete hidden.box;
  const found = read('<img src=a.png alt=A><img src=b.png alt=B><img src=c.png alt=C>', [
    hidden,
    image('b.png', { style: { visibility: 'hidden' } }, { alt: 'B' }),
  ]);
  expect(found.map((a) => [a.markup.src, a.accessible.hidden, a.accessible.ignored])).toEqual([
    ['a.png', 'not rendered', true],
    ['b.png', 'not visible', true],
    ['c.png', 'not rendered', true],
  ]);
});

test('computed backgrounds and pictures of pseudo-elements belong to their elements', () => {
  const url = (name: string) => `url("https://skerry.example/${name}")`;
  const found = read('<p>text</p>', [
    {
      name: 'P',
      box,
      style: { 'background-image': `${url('1.png')}, linear-gradient(red, blue), ${url('a\\"b.png')}` },
      children: [
        { name: '::before', pseudo: 'before', box, style: { content: url('2.png') } },
        { name: '#text', text: 'text', box },
      ],
    },
  ]);
  expect(found.map((a) => [a.element, a.markup.src])).toEqual([
    ['css-background', 'https://skerry.example/1.png'],
    ['css-background', 'https://skerry.example/a"b.png'],
    ['css-background', 'https://skerry.example/2.png'],
  ]);
});

test('a closed shadow tree stands in the place of its host, with the slots filled', () => {
  const light = image('light.png', {}, { alt: 'Light', slot: 'picture' });
  const unslotted = image('nowhere.png');
  const slot = { name: 'SLOT', attributes: { name: 'picture' }, children: [image('fallback.png')] };
  const found = read('<x-card></x-card>', [
    {
      name: 'X-CARD',
      box,
      children: [
        { name: '#document-fragment', shadow: true, children: [image('shadow.png', {}, { alt: 'Shadow' }), slot] },
        light,
        unslotted,
      ],
    },
  ]);
  expect(found.map((a) => a.markup.src)).toEqual(['shadow.png', 'light.png']);
  expect(found[1]!.context.place).toBe('x-card>slot>img');
});

test('an image with candidates and no source of its own shows the one that the browser chose', () => {
  const chosen = {
    name: 'IMG',
    attributes: { srcset: 'a.png 1x, b.png 2x' },
    box,
    current: 'https://skerry.example/b.png',
  };
  expect(read('<p>x</p>', [chosen])[0]!.markup.src).toBe('https://skerry.example/b.png');
});

test('a browser that gives no document is an error', () =>
  expect(() => renderedTree({ documents: [], strings: [] })).toThrow('the browser gave no document'));

test('trees nested 3,000 deep are read', () => {
  let deep: Painted = image('deep.png');
  const chain: Painted[] = [deep];
  for (let i = 0; i < 3000; i++) chain.push((deep = { name: 'DIV', box, children: [deep] }));
  expect(read('<p>x</p>', [deep]).map((a) => a.markup.src)).toEqual(['deep.png']);
});
