import type { AppearanceElement } from '../../model/appearance';
import { explicitRole } from './accname';
import { SVG_NS, attr, isElement, parentOf, textOf, type Element } from './tree';

const IMAGE_FILE = /\.(?:png|jpe?g|gif|webp|avif|svg|bmp|ico|tiff?)(?:[?#]|$)/i;

/** Which kind of appearance an element is; null for everything that shows no picture. */
export function appearanceElement(node: Element): AppearanceElement | null {
  const tag = node.tagName;
  if (node.namespaceURI === SVG_NS) {
    const parent = parentOf(node);
    const nested = parent && isElement(parent) && parent.namespaceURI === SVG_NS && parent.tagName !== 'foreignObject';
    return tag === 'svg' && !nested ? 'svg' : null;
  }
  switch (tag) {
    case 'img':
    case 'area':
      return tag;
    case 'input':
      return attr(node, 'type')?.toLowerCase() === 'image' ? 'input' : null;
    case 'source': {
      const parent = parentOf(node);
      const inPicture = parent && isElement(parent) && parent.tagName === 'picture';
      return inPicture && (attr(node, 'srcset') ?? attr(node, 'data-srcset')) ? 'source' : null;
    }
    case 'canvas':
      // What stands inside is what assistive technology is given instead.
      return textOf(node).trim() === '' ? 'canvas' : null;
    case 'video':
      return attr(node, 'poster') || attr(node, 'data-poster') ? 'poster' : null;
    case 'object':
    case 'embed': {
      const type = attr(node, 'type')?.toLowerCase();
      const file = attr(node, tag === 'object' ? 'data' : 'src') ?? '';
      if (type ? type.startsWith('image/') : IMAGE_FILE.test(file)) return tag;
    }
  }
  return attr(node, 'role') !== undefined && explicitRole(node) === 'image' ? 'role-img' : null;
}
