import type { Box } from '../../model/appearance';
import type { DocumentReading } from '../../model/document';
import type { Message } from '../../model/message';
import { MOST_APPEARANCES } from '../../model/page';
import { DocumentError } from '../document-error';
import { PageBuilder } from '../page-builder';
import { boxOf, openPainted, readPainted, union, type Matrix, type PaintedPage, type PaintedPicture } from './painted';
import { readStructure, type Marked, type PdfFigure, type PdfStructure } from './structure';
import { collapse } from '../../white-space';

const MOST_PAGES = 2_000;
/** Pictures of less are lines and dots of a drawing: CSS pixels of a side. */
const LEAST_SIDE = 8;
/** Share of a picture that has to stand where a figure is said to stand. */
const MOST_OF = 0.7;
/** No transformation. */
const UNMOVED: Matrix = [1, 0, 0, 1, 0, 0];

/** Roles that are read apart from what stands before them (ISO 32000-1, 14.8.4.3). */
const BLOCKS = /^(?:P|H\d?|Title|LI|LBody|TD|TH|Caption|BlockQuote|Note|TOCI|Index|Code)$/;

/** What a picture of a page is called, so that its file is found again. */
export const pictureName = (page: number, index: number): string => `page ${page}, picture ${index}`;

export const parsePictureName = (name: string): { page: number; index: number } | null => {
  const m = /^page (\d+), picture (\d+)$/.exec(name);
  return m ? { page: Number(m[1]), index: Number(m[2]) } : null;
};

/** A document with the figures of its appearances; null where one stands outside of the tags. */
export interface PdfReading extends DocumentReading {
  structure: PdfStructure;
  figures: (PdfFigure | null)[];
}

/**
 * Reads a PDF as one page, in the order of its tags, else page by page.
 *
 * @throws DocumentError when it cannot be read, or is encrypted
 */
export async function readPdf(bytes: Buffer): Promise<PdfReading> {
  const structure = await readStructure(bytes);
  const document = await openPainted(bytes);
  const painted: PaintedPage[] = [];
  try {
    // A page that the tree names a million times is one page.
    for (let p = 1; p <= Math.min(document.numPages, structure.pages, MOST_PAGES); p++) {
      const page = await document.getPage(p);
      painted.push(await readPainted(page));
      page.cleanup();
    }
  } catch (error) {
    // The library says of a damaged tree of pages what only its authors understand.
    throw error instanceof DocumentError ? error : new DocumentError({ id: 'document.damaged' });
  } finally {
    await document.loadingTask.destroy();
  }
  const reader = new PdfReader(structure, painted);
  const notes: Message[] = [];
  if (!structure.isTagged) notes.push({ id: 'document.untagged' });
  if (structure.isSigned) notes.push({ id: 'document.signed' });
  return { pages: [{ fragment: null, reading: reader.read() }], notes, structure, figures: reader.figures };
}

class PdfReader {
  readonly figures: (PdfFigure | null)[] = [];
  private readonly page = new PageBuilder();
  private readonly counts = new Map<number, number>();
  private readonly taken = new Set<PaintedPicture>();

  constructor(
    private readonly structure: PdfStructure,
    private readonly painted: readonly PaintedPage[],
  ) {}

  read() {
    const { structure, painted, page } = this;
    if (structure.isTagged) this.readTags();
    else
      painted.forEach((p, i) => {
        page.addParagraph(p.texts.get(-1) ?? '');
        this.addOthers(p, i + 1);
      });
    if (structure.isTagged) painted.forEach((p, i) => this.addOthers(p, i + 1));
    const reading = page.build({ title: structure.title, lang: structure.lang });
    reading.title ||= reading.headings[0] ?? '';
    return reading;
  }

  private readTags(): void {
    let lastFigure: { block: number } | null = null;
    for (const node of this.structure.nodes) {
      if (node.kind === 'content') this.page.addText(this.textOf(node.content));
      else if (node.kind === 'figure') {
        this.addFigure(node.figure);
        lastFigure = { block: this.page.openBlock };
      } else if (node.kind === 'start') {
        if (BLOCKS.test(node.role)) this.page.startBlock();
      } else {
        const level = node.role === 'H' || node.role === 'Title' ? 1 : Number(/^H(\d)$/.exec(node.role)?.[1] ?? 0);
        if (level > 0) this.page.endHeading(level);
        // A caption beside its figure is of the one before it.
        if (node.role === 'Caption' && lastFigure) {
          if (this.page.blockText !== '') this.page.setCaption(lastFigure.block, this.page.blockText);
          lastFigure = null;
        }
      }
    }
  }

  private textOf({ page, id }: Marked): string {
    return this.painted[page - 1]?.texts.get(id) ?? '';
  }

  private addFigure(figure: PdfFigure): void {
    if (this.figures.length >= MOST_APPEARANCES) return;
    const number = figure.page;
    const own = this.painted[number - 1];
    const ids = new Set(figure.content.filter((c) => c.page === number).map((c) => c.id));
    const bounds = own && figure.bounds ? boxOf(UNMOVED, figure.bounds, own.view) : null;
    const free = (own?.pictures ?? []).filter((p) => !this.taken.has(p));
    const marked = free.filter((p) => p.marked !== null && ids.has(p.marked));
    // Some programs tag a figure without its content, and say only where it stands.
    const pictures = marked.length > 0 || !bounds ? marked : free.filter((p) => isWithin(p.box, bounds));
    for (const p of pictures) this.taken.add(p);
    const largest = pictures.reduce<PaintedPicture | null>(
      (a, b) => (a && a.width * a.height >= b.width * b.height ? a : b),
      null,
    );
    const covered = [...ids].flatMap((id) => own?.boxes.get(id) ?? []);
    const box = covered.reduce<Box | null>((a, b) => (a ? union(a, b) : b), null) ?? bounds;
    const element = figure.role === 'Formula' ? 'formula' : 'figure';
    const caption = collapse(figure.captions.map((c) => this.textOf(c)).join(' '));
    this.page.startBlock();
    this.page.add({
      element,
      ...{ alt: figure.alt, title: figure.actualText, isDecorative: false, lang: figure.lang },
      src: largest ? pictureName(number, largest.index) : null,
      place: `page ${number} > ${element} ${this.next(number, element)}`,
      location: { kind: 'object', part: `page ${number}`, object: figure.ref?.toString() ?? '' },
      ...{ width: largest?.width ?? null, height: largest?.height ?? null, box, caption: caption || null },
      spot: number > 0 ? { id: 'spot.page', values: { page: number } } : null,
    });
    this.figures.push(figure);
  }

  private next(page: number, element: string): number {
    const key = page * 4 + (element === 'figure' ? 0 : element === 'formula' ? 1 : 2);
    const n = (this.counts.get(key) ?? 0) + 1;
    this.counts.set(key, n);
    return n;
  }

  /** Pictures outside of the tags: artifacts are decoration (ISO 32000-1, 14.8.2.2), all others are heard by nobody. */
  private addOthers({ pictures }: PaintedPage, number: number): void {
    for (const p of pictures) {
      if (this.taken.has(p) || this.figures.length >= MOST_APPEARANCES) continue;
      if (p.width < LEAST_SIDE || p.height < LEAST_SIDE) continue;
      // Tagged as something else: text over a picture, the cell of a table.
      if (p.marked !== null && this.structure.isTagged && !p.isArtifact) continue;
      this.page.add({
        element: 'picture',
        ...{ alt: null, title: null, isDecorative: p.isArtifact },
        src: pictureName(number, p.index),
        place: `page ${number} > ${p.isArtifact ? 'artifact' : 'picture'} ${p.index}`,
        location: { kind: 'object', part: `page ${number}`, object: '' },
        ...{ width: p.width, height: p.height, box: p.box, spot: { id: 'spot.page', values: { page: number } } },
      });
      this.figures.push(null);
    }
  }
}

/** Whether most of a box stands within another. */
function isWithin(inner: Box, outer: Box): boolean {
  const across = Math.min(inner.left + inner.width, outer.left + outer.width) - Math.max(inner.left, outer.left);
  const down = Math.min(inner.top + inner.height, outer.top + outer.height) - Math.max(inner.top, outer.top);
  return across > 0 && down > 0 && across * down > MOST_OF * inner.width * inner.height;
}
