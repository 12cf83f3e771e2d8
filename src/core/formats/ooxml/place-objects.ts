import type { Box, Region } from '../../model/appearance';
import type { Message } from '../../model/message';
import type { PageBuilder } from '../page-builder';
import { drawnData, type CellsAt } from './chart';
import { isListed, pixelsOfEmu, type DrawnObject } from './drawn-object';
import type { OoxmlPackage } from './package';
import type { HiddenReason } from '../../model/appearance';

/** What all objects of one part have in common. */
export interface Surroundings {
  pack: OoxmlPackage;
  part: string;
  /** The beginning of their places: `body`, `slide`, `header 1`. */
  root: string;
  region?: Region | null;
  hidden?: HiddenReason | null;
  /** Width and height of the page in EMU, where objects stand at fixed places of it. */
  size?: { width: number; height: number } | null;
  spot?(o: DrawnObject, box: Box | null): Message | null;
  /** The texts of the cells that a chart's reference names, where the document has cells. */
  cellsAt?: CellsAt;
}

/** An object of a page, in the order of its appearances, with the part that its words stand in. */
export interface WrittenObject {
  object: DrawnObject;
  part: string;
}

interface Group {
  place: string;
  box(frame: DrawnObject['frame']): Box | null;
}

/** Places an object and its parts on a page, and adds them to `written`. */
export function placeObject(
  page: PageBuilder,
  o: DrawnObject,
  s: Surroundings,
  written: WrittenObject[],
  group: Group | null = null,
): void {
  if (!isListed(o)) {
    for (const part of o.parts) placeObject(page, part, s, written, group);
    return;
  }
  const box = group ? group.box(o.frame) : boxOn(s.size ?? null, o.frame);
  const drawn = drawnData(s.pack, o, s.cellsAt);
  const place = page.add({
    element: o.element,
    ...{ alt: o.alt, title: o.title, isDecorative: o.isDecorative },
    src: o.media,
    svg: o.media === null ? drawn.svg : null,
    data: drawn.data,
    place: `${group?.place ?? s.root} > ${o.element} ${o.id ?? ''}`.trim(),
    location: { kind: 'object', part: s.part, object: o.id ?? '' },
    width: o.frame && pixelsOfEmu(o.frame.width),
    height: o.frame && pixelsOfEmu(o.frame.height),
    box,
    spot: s.spot?.(o, box) ?? null,
    partOf: group?.place ?? null,
    region: s.region ?? null,
    hidden: o.isHidden ? 'not rendered' : (s.hidden ?? null),
    link: o.link,
  });
  if (place === null) return;
  written.push({ object: o, part: s.part });
  for (const part of o.parts) placeObject(page, part, s, written, { place, box: (frame) => boxInGroup(o, box, frame) });
}

/** A frame as shares of the page that it stands on. */
function boxOn(size: Surroundings['size'] | null, frame: DrawnObject['frame']): Box | null {
  if (!size || !frame) return null;
  const { width, height } = size;
  return { left: frame.x / width, top: frame.y / height, width: frame.width / width, height: frame.height / height };
}

/** Parts of a group are measured in a frame of its own. */
function boxInGroup(group: DrawnObject, box: Box | null, frame: DrawnObject['frame']): Box | null {
  const { inner } = group;
  if (!box || !frame || !inner || inner.width <= 0 || inner.height <= 0) return null;
  return {
    left: box.left + ((frame.x - inner.x) / inner.width) * box.width,
    top: box.top + ((frame.y - inner.y) / inner.height) * box.height,
    width: (frame.width / inner.width) * box.width,
    height: (frame.height / inner.height) * box.height,
  };
}
