import {
  PDFArray,
  PDFDict,
  PDFDocument,
  PDFHexString,
  PDFName,
  PDFNumber,
  PDFRef,
  PDFString,
  type PDFObject,
} from '@cantoo/pdf-lib';
import { DocumentError } from '../document-error';

/** Elements of the structure that are read, and how deep they are nested; a hostile file has more. */
const MOST_NODES = 2_000_000;
const DEEPEST = 300;

/** Marked content of one page. */
export interface Marked {
  /** From 1. */
  page: number;
  id: number;
}

/** What the structure tree holds, in its order (ISO 32000-1, 14.7). */
export type StructureNode =
  | { kind: 'content'; content: Marked }
  | { kind: 'start' | 'end'; role: string; element: PDFDict; link: string | null }
  | { kind: 'figure'; figure: PdfFigure };

/** A Figure or a Formula. */
export interface PdfFigure {
  role: 'Figure' | 'Formula';
  /** Null for one that stands in another object: it cannot be replaced by itself. */
  ref: PDFRef | null;
  element: PDFDict;
  alt: string | null;
  actualText: string | null;
  lang: string | null;
  /** From 1; 0 where nothing says it. */
  page: number;
  content: Marked[];
  /** Where its Layout attributes say it stands, in the page's own units: left, bottom, right, top (14.8.5.4.3). */
  bounds: [number, number, number, number] | null;
  /** Text of a Caption within it. */
  captions: Marked[];
}

export interface PdfStructure {
  document: PDFDocument;
  isTagged: boolean;
  isSigned: boolean;
  pages: number;
  title: string;
  lang: string | null;
  nodes: StructureNode[];
}

const name = (text: string) => PDFName.of(text);
const textOf = (o: PDFObject | undefined): string | null =>
  o instanceof PDFHexString || o instanceof PDFString ? o.decodeText() : null;

/**
 * Reads the objects of a PDF: its structure tree, its language, whether it is signed.
 *
 * @throws DocumentError when it cannot be read, or is encrypted
 */
export async function readStructure(bytes: Buffer): Promise<PdfStructure> {
  try {
    return structureOf(await load(bytes));
  } catch (error) {
    // The library finds some faults only when it looks for what is not there.
    throw error instanceof DocumentError ? error : new DocumentError({ id: 'document.damaged' });
  }
}

const load = (bytes: Buffer): Promise<PDFDocument> =>
  PDFDocument.load(bytes, { updateMetadata: false, throwOnInvalidObject: false, ignoreEncryption: true });

function structureOf(document: PDFDocument): PdfStructure {
  if (document.isEncrypted) throw new DocumentError({ id: 'document.encrypted' });
  const { catalog, context } = document;
  const root = catalog.lookup(name('StructTreeRoot'));
  const pages = pageNumbers(document);
  const isSigned = context
    .enumerateIndirectObjects()
    .some(([, o]) => o instanceof PDFDict && o.has(name('ByteRange')) && o.has(name('Contents')));
  const info = context.lookup(context.trailerInfo.Info);
  const title = info instanceof PDFDict ? (textOf(info.lookup(name('Title'))) ?? '') : '';
  return {
    ...{ document, isSigned, pages: pages.size, title, lang: textOf(catalog.lookup(name('Lang'))) },
    isTagged: root instanceof PDFDict,
    nodes: root instanceof PDFDict ? new TreeReader(document, root, pages).read() : [],
  };
}

/**
 * The pages of a document by their references, from 1 (ISO 32000-1, 7.7.3). Each node of the tree is visited once, however
 * often others name it, so that neither a loop nor a tree of powers holds anybody.
 */
function pageNumbers({ catalog, context }: PDFDocument): Map<string, number> {
  const numbers = new Map<string, number>();
  const seen = new Set<string>();
  const todo: (PDFObject | undefined)[] = [catalog.get(name('Pages'))];
  while (todo.length > 0) {
    const ref = todo.pop();
    if (!(ref instanceof PDFRef) || seen.has(ref.toString())) continue;
    seen.add(ref.toString());
    const node = context.lookup(ref);
    if (!(node instanceof PDFDict)) continue;
    const kids = node.lookup(name('Kids'));
    if (!(kids instanceof PDFArray)) numbers.set(ref.toString(), numbers.size + 1);
    else for (let i = kids.size() - 1; i >= 0; i--) todo.push(kids.get(i));
  }
  return numbers;
}

/** Walks the structure tree without recursion; the text layer of viewers leaves out figures, so it is read itself. */
class TreeReader {
  private readonly out: StructureNode[] = [];
  private readonly seen = new Set<string>();
  private readonly roles: PDFDict | undefined;

  constructor(
    private readonly document: PDFDocument,
    private readonly root: PDFDict,
    private readonly pages: ReadonlyMap<string, number>,
  ) {
    const map = root.lookup(name('RoleMap'));
    this.roles = map instanceof PDFDict ? map : undefined;
  }

  read(): StructureNode[] {
    type Task = { end: StructureNode } | { object: PDFObject | undefined; page: number; depth: number };
    const todo: Task[] = [{ object: this.root.get(name('K')), page: 0, depth: 0 }];
    for (let count = 0, task = todo.pop(); task; task = todo.pop()) {
      if (++count > MOST_NODES)
        throw new DocumentError({ id: 'document.too-deep', values: { part: 'StructTreeRoot' } });
      if ('end' in task) {
        this.out.push(task.end);
        continue;
      }
      const { page, depth } = task;
      const { object, ref } = this.resolved(task.object);
      if (object === null || depth > DEEPEST) continue;
      if (object instanceof PDFNumber) this.out.push({ kind: 'content', content: { page, id: object.asNumber() } });
      else if (object instanceof PDFArray)
        for (let i = object.size() - 1; i >= 0; i--) todo.push({ object: object.get(i), page, depth: depth + 1 });
      else if (object instanceof PDFDict) {
        const own = this.pageOf(object) || page;
        const role = this.roleOf(object);
        const id = object.get(name('MCID'));
        if (role === null) {
          if (id instanceof PDFNumber) this.out.push({ kind: 'content', content: { page: own, id: id.asNumber() } });
        } else if (role === 'Figure' || role === 'Formula')
          this.out.push({ kind: 'figure', figure: this.figure(object, ref, role, own) });
        else {
          const node = { role, element: object, link: null };
          this.out.push({ kind: 'start', ...node });
          todo.push({ end: { kind: 'end', ...node } }, { object: object.get(name('K')), page: own, depth: depth + 1 });
        }
      }
    }
    return this.out;
  }

  /** What a reference leads to, each once: a loop of references ends. */
  private resolved(object: PDFObject | undefined): { object: PDFObject | null; ref: PDFRef | null } {
    if (!(object instanceof PDFRef)) return { object: object ?? null, ref: null };
    const key = object.toString();
    if (this.seen.has(key)) return { object: null, ref: null };
    this.seen.add(key);
    return { object: this.document.context.lookup(object) ?? null, ref: object };
  }

  private pageOf(element: PDFDict): number {
    const page = element.get(name('Pg'));
    return page instanceof PDFRef ? (this.pages.get(page.toString()) ?? 0) : 0;
  }

  /** The standard role that an element's own is mapped to (14.8.4); null for what is no element. */
  private roleOf(element: PDFDict): string | null {
    const own = element.lookup(name('S'));
    if (!(own instanceof PDFName)) return null;
    let role = own.decodeText();
    for (let i = 0; i < 20; i++) {
      const mapped = this.roles?.get(name(role));
      if (!(mapped instanceof PDFName) || mapped.decodeText() === role) break;
      role = mapped.decodeText();
    }
    return role;
  }

  private figure(element: PDFDict, ref: PDFRef | null, role: PdfFigure['role'], page: number): PdfFigure {
    const content: Marked[] = [];
    const captions: Marked[] = [];
    let own = page;
    const collect = (from: PDFObject | undefined, at: number, depth: number, into: Marked[]): void => {
      const { object } = this.resolved(from);
      if (object === null || depth > DEEPEST) return;
      if (object instanceof PDFNumber) into.push({ page: at, id: object.asNumber() });
      else if (object instanceof PDFArray)
        for (let i = 0; i < object.size(); i++) collect(object.get(i), at, depth + 1, into);
      else if (object instanceof PDFDict) {
        const here = this.pageOf(object) || at;
        own ||= here;
        const id = object.get(name('MCID'));
        if (id instanceof PDFNumber) into.push({ page: here, id: id.asNumber() });
        const inner = this.roleOf(object) === 'Caption' ? captions : into;
        if (object.has(name('K'))) collect(object.get(name('K')), here, depth + 1, inner);
      }
    };
    collect(element.get(name('K')), page, 0, content);
    const [alt, actualText, lang] = ['Alt', 'ActualText', 'Lang'].map((key) => textOf(element.lookup(name(key))));
    return {
      role,
      ref,
      element,
      alt: alt!,
      actualText: actualText!,
      lang: lang!,
      page: own,
      content,
      captions,
      bounds: boundsOf(element),
    };
  }
}

function boundsOf(element: PDFDict): PdfFigure['bounds'] {
  const attributes = element.lookup(name('A'));
  const all = attributes instanceof PDFArray ? attributes.asArray().map((_, i) => attributes.lookup(i)) : [attributes];
  for (const one of all) {
    const box = one instanceof PDFDict ? one.lookup(name('BBox')) : undefined;
    const numbers =
      box instanceof PDFArray ? box.asArray().map((n) => (n instanceof PDFNumber ? n.asNumber() : NaN)) : [];
    if (numbers.length === 4 && numbers.every(Number.isFinite)) return numbers as [number, number, number, number];
  }
  return null;
}
