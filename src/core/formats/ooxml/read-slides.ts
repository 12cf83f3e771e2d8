import type { Box } from '../../model/appearance';
import type { Message } from '../../model/message';
import { PageBuilder } from '../page-builder';
import {
  ancestorsOf,
  attributeOf,
  childOf,
  childrenOf,
  descendantsOf,
  findBelow,
  textBelow,
  type XmlElement,
} from '../xml/xml-tree';
import { ObjectReader, type DrawnObject } from './drawn-object';
import type { OoxmlPackage, Part } from './package';
import { placeObject, type Surroundings, type WrittenObject } from './place-objects';
import type { OfficePage } from './read-office';

/** Slides, layouts and masters that are read; a hostile file lists more. */
const MOST = 5_000;

/** Where on the slide something stands, in thirds of its width and height. */
export function spotOn(box: Box | null): Message | null {
  if (!box) return null;
  const third = (middle: number, names: readonly [string, string, string]) =>
    names[middle < 1 / 3 ? 0 : middle > 2 / 3 ? 2 : 1];
  const across = third(box.left + box.width / 2, ['left', 'middle', 'right']);
  const down = third(box.top + box.height / 2, ['top', 'middle', 'bottom']);
  const fills = box.width > 0.9 && box.height > 0.9;
  return {
    id: fills ? 'spot.whole' : `spot.${down === 'middle' ? across : across === 'middle' ? down : `${down}-${across}`}`,
  };
}

/** Reads what stands on one slide, layout, master or notes page, in its reading order: that of the shape tree. */
function readSlide(part: Part, page: PageBuilder, s: Surroundings): WrittenObject[] {
  const written: WrittenObject[] = [];
  const objects = new ObjectReader(s.pack, s.part);
  const tree = findBelow(part.root, 'spTree');
  const background = findBelow(part.root, 'bgPr');
  const fill = background && findBelow(background, 'blip');
  for (const e of tree ? childrenOf(tree) : []) {
    const drawn = e.local === 'AlternateContent' ? objects.alternate(e) : [objects.read(e)].filter((o) => o !== null);
    for (const o of drawn) {
      placeObject(page, o, s, written);
      if (o.hasText) addTexts(page, o);
    }
  }
  const picture = fill && s.pack.target(s.part, attributeOf(fill, 'embed') ?? attributeOf(fill, 'link'));
  if (picture) {
    page.startBlock();
    page.add({
      ...{ element: 'background', alt: null, title: null, isDecorative: true, src: picture.target },
      ...{ place: `${s.root} > background`, location: { kind: 'object', part: s.part, object: 'background' } },
      ...{ box: { left: 0, top: 0, width: 1, height: 1 }, hidden: s.hidden ?? null },
    });
  }
  return written;
}

/** The paragraphs of a shape or a table; a title is a heading. */
function addTexts(page: PageBuilder, { scope }: DrawnObject): void {
  const holder = findBelow(scope, 'ph');
  const isTitle = /^(?:title|ctrTitle)$/.test((holder && attributeOf(holder, 'type')) ?? '');
  for (const p of descendantsOf(scope)) {
    if (p.local !== 'p' || ancestorsOf(p).some((a) => a.local === 'Fallback')) continue;
    page.addParagraph(runsOf(p));
  }
  if (isTitle) page.endHeading(2);
}

const runsOf = (p: XmlElement): string =>
  [...descendantsOf(p)].map((t) => (t.local === 't' ? textBelow(t) : t.local === 'br' ? ' ' : '')).join('');

/** The title of a slide: of its title's shape, else nothing. */
function titleOf(part: Part): string {
  for (const e of descendantsOf(part.root)) {
    if (e.local !== 'ph' || !/^(?:title|ctrTitle)$/.test(attributeOf(e, 'type') ?? '')) continue;
    const shape = ancestorsOf(e).find((a) => a.local === 'sp');
    if (shape)
      return [...descendantsOf(shape)]
        .filter((p) => p.local === 'p')
        .map(runsOf)
        .join(' ')
        .trim();
  }
  return '';
}

function languageOf(part: Part): string | null {
  for (const e of descendantsOf(part.root)) {
    const lang = e.local === 'rPr' || e.local === 'endParaRPr' ? attributeOf(e, 'lang') : null;
    if (lang) return lang;
  }
  return null;
}

/** A presentation: its slides as they are shown, then notes, layouts and masters with pictures (ECMA-376, part 1, 13). */
export function readSlides(pack: OoxmlPackage): OfficePage[] {
  const main = pack.part(pack.main);
  const size = findBelow(main.root, 'sldSz');
  const [width, height] = [Number(size && attributeOf(size, 'cx')), Number(size && attributeOf(size, 'cy'))];
  const own = width > 0 && height > 0 ? { width, height } : null;
  const { title, language } = pack.properties;
  const listed = (from: Part, list: string): Part[] => {
    const ids = findBelow(from.root, list);
    return (ids ? childrenOf(ids) : []).slice(0, MOST).flatMap((e) => {
      // Beside `r:id` stands an `id` that is no relationship's.
      const key = Object.entries(e.attributes).find(([name]) => /:id$/.test(name))?.[1] ?? null;
      const part = pack.optional(pack.target(from.name, key)?.target);
      return part ? [part] : [];
    });
  };
  const pageOf = (
    part: Part,
    fragment: string,
    root: string,
    name: string,
    more: Partial<Surroundings> = {},
  ): OfficePage => {
    const page = new PageBuilder();
    const objects = readSlide(part, page, {
      pack,
      part: part.name,
      root,
      size: own,
      spot: (_, box) => spotOn(box),
      ...more,
    });
    return { fragment, objects, reading: page.build({ title: name, lang: languageOf(part) ?? language }) };
  };
  const slides = listed(main, 'sldIdLst');
  const titled = (part: Part) => [title, titleOf(part)].filter(Boolean).join(': ');
  const out = slides.map((part, i) => {
    const shown = pageOf(part, `slide=${i + 1}`, 'slide', titled(part));
    const notes = pack.optional(pack.related(part.name, 'notesSlide')[0]);
    if (notes) addNotes(shown, notes);
    return shown;
  });
  const filled = (page: OfficePage) => page.objects.length > 0;
  slides.forEach((part, i) => {
    const notes = pack.optional(pack.related(part.name, 'notesSlide')[0]);
    if (notes) out.push(...[pageOf(notes, `notes=${i + 1}`, 'notes', titled(part), { size: null })].filter(filled));
  });
  const masters = listed(main, 'sldMasterIdLst');
  const layouts = masters.flatMap((master) => listed(master, 'sldLayoutIdLst'));
  // What masters and layouts show is drawn on slides and is no part of them: screen readers skip it there.
  const behind = { hidden: 'behind the slides' } as const;
  layouts.forEach((part, i) =>
    out.push(...[pageOf(part, `layout=${i + 1}`, 'layout', nameOf(part, title), behind)].filter(filled)),
  );
  masters.forEach((part, i) =>
    out.push(...[pageOf(part, `master=${i + 1}`, 'master', nameOf(part, title), behind)].filter(filled)),
  );
  return out;
}

const nameOf = (part: Part, title: string): string => {
  const data = childOf(part.root, 'cSld');
  return [title, (data && attributeOf(data, 'name')) ?? ''].filter(Boolean).join(': ');
};

/** What the speaker says to a slide, as words that its pictures are worded from. */
function addNotes({ reading }: OfficePage, notes: Part): void {
  const texts = [...descendantsOf(notes.root)].filter((e) => {
    const holder = e.local === 'sp' ? findBelow(e, 'ph') : undefined;
    return holder && attributeOf(holder, 'type') === 'body';
  });
  const text = texts
    .flatMap((e) => [...descendantsOf(e)].filter((p) => p.local === 'p').map(runsOf))
    .join(' ')
    .trim();
  if (text === '') return;
  for (const { context } of reading.appearances)
    context.after = [context.after, text].filter(Boolean).join(' ').slice(0, 640);
}
