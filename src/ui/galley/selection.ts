import type { GalleyView, Line } from '@/contract/galley';
import type { Target } from '@/contract/target';

/** What is selected: some lines, or all that the view holds but some. */
export interface Selection {
  kind: 'some' | 'all';
  /** Keys of the lines that are selected, or that are not. */
  keys: ReadonlySet<number>;
}

export const NONE: Selection = { kind: 'some', keys: new Set() };
export const ALL: Selection = { kind: 'all', keys: new Set() };

/** What a line is selected by: its picture, or its place where lines are places. */
export const keyOf = (line: Pick<Line, 'id' | 'appearanceId' | 'isPlace'>): number =>
  line.isPlace ? line.appearanceId : line.id;

export const isSelected = ({ kind, keys }: Selection, key: number): boolean => keys.has(key) === (kind === 'some');

export const sizeOf = ({ kind, keys }: Selection, total: number): number =>
  kind === 'some' ? keys.size : Math.max(0, total - keys.size);

/** Selects lines, or takes them out again. */
export function select(selection: Selection, keys: readonly number[], on: boolean): Selection {
  const next = new Set(selection.keys);
  for (const key of keys)
    if (on === (selection.kind === 'some')) next.add(key);
    else next.delete(key);
  return { kind: selection.kind, keys: next };
}

/** The places that an act on a selection is for. */
export function targetOf(selection: Selection, view: GalleyView): Target {
  const keys = [...selection.keys];
  if (selection.kind === 'all') return { kind: 'view', view, except: keys };
  const isPlaces = view.group === 'page' || view.group === 'place';
  return isPlaces ? { kind: 'places', places: keys } : { kind: 'pictures', pictures: keys };
}

/** The places of one line. */
export const lineTarget = (line: Line): Target =>
  line.isPlace ? { kind: 'places', places: [line.appearanceId] } : { kind: 'pictures', pictures: [line.id] };
