import { decodeHTML } from 'entities';
import type { ParsedHtml } from '../html/parse';
import type { Element, ParentNode } from '../html/tree';
import { isXmlElement, type XmlElement } from './xml-tree';

/** Named characters of XHTML 1.0 (its three entity sets): a document's own DTD is never read for them. */
const NAMES =
  'nbsp iexcl cent pound curren yen brvbar sect uml copy ordf laquo not shy reg macr deg plusmn sup2 sup3 acute micro ' +
  'para middot cedil sup1 ordm raquo frac14 frac12 frac34 iquest Agrave Aacute Acirc Atilde Auml Aring AElig Ccedil ' +
  'Egrave Eacute Ecirc Euml Igrave Iacute Icirc Iuml ETH Ntilde Ograve Oacute Ocirc Otilde Ouml times Oslash Ugrave ' +
  'Uacute Ucirc Uuml Yacute THORN szlig agrave aacute acirc atilde auml aring aelig ccedil egrave eacute ecirc euml ' +
  'igrave iacute icirc iuml eth ntilde ograve oacute ocirc otilde ouml divide oslash ugrave uacute ucirc uuml yacute ' +
  'thorn yuml OElig oelig Scaron scaron Yuml fnof circ tilde Alpha Beta Gamma Delta Epsilon Zeta Eta Theta Iota Kappa ' +
  'Lambda Mu Nu Xi Omicron Pi Rho Sigma Tau Upsilon Phi Chi Psi Omega alpha beta gamma delta epsilon zeta eta theta ' +
  'iota kappa lambda mu nu xi omicron pi rho sigmaf sigma tau upsilon phi chi psi omega thetasym upsih piv ensp emsp ' +
  'thinsp zwnj zwj lrm rlm ndash mdash lsquo rsquo sbquo ldquo rdquo bdquo dagger Dagger bull hellip permil prime ' +
  'Prime lsaquo rsaquo oline frasl euro image weierp real trade alefsym larr uarr rarr darr harr crarr lArr uArr rArr ' +
  'dArr hArr forall part exist empty nabla isin notin ni prod sum minus lowast radic prop infin ang and or cap cup int ' +
  'there4 sim cong asymp ne equiv le ge sub sup nsub sube supe oplus otimes perp sdot lceil rceil lfloor rfloor lang ' +
  'rang loz spades clubs hearts diams';

/** By name. */
export const XHTML_ENTITIES: Readonly<Record<string, string>> = Object.fromEntries(
  NAMES.split(' ').map((name) => [name, decodeHTML(`&${name};`)]),
);

/** A parsed XHTML or SVG file as the tree that readers of pages work on. */
export interface XhtmlTree extends ParsedHtml {
  /** The element of the XML that a node was made from. */
  xmlOf(element: Element): XmlElement | undefined;
}

/** @param document as `parseXml` gives it */
export function xhtmlTree(document: XmlElement): XhtmlTree {
  const origins = new Map<Element, XmlElement>();
  const root = { nodeName: '#document', mode: 'no-quirks', childNodes: [] } as unknown as ParentNode;
  const add = (parent: ParentNode, from: XmlElement) => {
    for (const c of from.content) {
      const node = isXmlElement(c) ? elementOf(c) : ({ nodeName: '#text', value: c } as unknown as Element);
      (node as { parentNode: ParentNode }).parentNode = parent;
      parent.childNodes.push(node);
      if (!isXmlElement(c)) continue;
      origins.set(node, c);
      add(node, c);
    }
  };
  add(root, document);
  const xmlOf = (element: Element) => origins.get(element);
  return { document: root as ParsedHtml['document'], rangeOf: xmlOf, xmlOf };
}

function elementOf(e: XmlElement): Element {
  const attrs = Object.entries(e.attributes).map(([name, value]) => ({ name: name.replace(/^xlink:/, ''), value }));
  if (e.attributes['xml:lang'] !== undefined && e.attributes['lang'] === undefined)
    attrs.push({ name: 'lang', value: e.attributes['xml:lang'] });
  return {
    nodeName: e.local,
    tagName: e.local,
    attrs,
    namespaceURI: e.namespace,
    childNodes: [],
  } as unknown as Element;
}
