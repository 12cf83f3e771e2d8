/** Stands between a document and the name of a picture that it holds. */
const MARK = '!/';

/** The address of a picture that a document holds itself. */
export const heldAddress = (document: string, name: string): string => `${document}${MARK}${name}`;

/** Which picture of a document an address is; null where it stands elsewhere. */
export function heldName(address: string, document: string): string | null {
  const start = heldAddress(document, '');
  return address.startsWith(start) ? address.slice(start.length) : null;
}

/** Whether a picture is a part of a document, and no file of its own. */
export const isHeld = (address: string): boolean => address.includes(MARK);

/** Names that programs give the pictures of a document: numbers, hashes, ids of mail. */
const MADE_UP = /^(?:image\d+\.\w+|[0-9A-F]{20,}\.\w+|cid:.*|page \d+, picture \d+)$/i;

/** Whether a picture is a part of a document that a program has named: its name says nothing of it. */
export const isNumbered = (address: string): boolean =>
  isHeld(address) && MADE_UP.test(address.slice(address.lastIndexOf(MARK) + MARK.length).replace(/^.*\//, ''));
