import { attributeOf, childOf, descendantsOf, parseXml, rootOf, textBelow, type XmlElement } from './xml/xml-tree';
import { decodeXml } from './xml/xml-part';
import { decodedPath } from './html/decoded-path';

/** The file that makes a package of pages a course (IMS Content Packaging 1.1.4, SCORM 2004, IMS Common Cartridge 1.3). */
export const MANIFEST = 'imsmanifest.xml';

/** A page of a course: its path below the manifest's folder, and what the course calls it. */
export interface CoursePage {
  path: string;
  title: string;
}

/**
 * The pages of a course in the order in which it shows them.
 *
 * @throws DocumentError when the manifest is not well-formed
 */
export function readManifest(bytes: Buffer): CoursePage[] {
  const root = rootOf(parseXml(decodeXml(bytes, MANIFEST).text, MANIFEST));
  const resources = new Map<string, string>();
  for (const e of descendantsOf(root)) {
    const href = e.local === 'resource' ? attributeOf(e, 'href') : null;
    if (href !== null) resources.set(attributeOf(e, 'identifier') ?? '', hrefOf(e, href));
  }
  const out = new Map<string, CoursePage>();
  for (const e of descendantsOf(root)) {
    if (e.local !== 'item') continue;
    const path = resources.get(attributeOf(e, 'identifierref') ?? '');
    const title = childOf(e, 'title');
    if (path !== undefined && !out.has(path)) out.set(path, { path, title: title ? textBelow(title).trim() : '' });
  }
  return [...out.values()];
}

/** A resource may stand below the base of what is around it. */
function hrefOf(resource: XmlElement, href: string): string {
  const bases: string[] = [];
  for (let e: XmlElement | null = resource; e; e = e.parent) bases.unshift(e.attributes['xml:base'] ?? '');
  return decodedPath((bases.join('') + href).split(/[?#]/)[0]!).replace(/^\.\//, '');
}
