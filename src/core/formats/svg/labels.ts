import type { Splice } from '../splice';
import { setAttribute, setContent } from '../xml/edit-xml';
import { descendantsOf, type XmlElement } from '../xml/xml-tree';

/** The elements within a drawing that name one of its elements by `aria-labelledby`, in their order in the file. */
export function labelsWithin(drawing: XmlElement, e: XmlElement): XmlElement[] {
  const ids = idsOf(e);
  return [drawing, ...descendantsOf(drawing)].filter((other) => ids.includes(other.attributes['id'] ?? ' '));
}

/** Whether everything that names a drawing by `aria-labelledby` is a title or a description of its own, which is not seen. */
export const isNamedWithin = (drawing: XmlElement): boolean => {
  const labels = labelsWithin(drawing, drawing);
  const isUnseen = labels.every((label) => label.local === 'title' || label.local === 'desc');
  return labels.length > 0 && isUnseen && labels.length === new Set(idsOf(drawing)).size;
};

const idsOf = (e: XmlElement): string[] => (e.attributes['aria-labelledby'] ?? '').split(/\s+/).filter(Boolean);

/**
 * Puts a text into what names an element. Several labels are read one after the other: the words stand in the first, and the
 * others no longer name it.
 *
 * @param labels at least one
 * @param markup the text as it is written in XML
 */
export function writeLabel(source: string, e: XmlElement, labels: readonly XmlElement[], markup: string): Splice[] {
  const own = labels[0]!;
  const one = labels.length > 1 ? setAttribute(source, e, 'aria-labelledby', own.attributes['id']!) : [];
  return [...one, setContent(own, markup, source)];
}
