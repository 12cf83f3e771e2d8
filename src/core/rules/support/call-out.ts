import { fileNameOf } from '../../picture/file-name';
import type { RuleContext } from '../../model/rule-context';

/** Pixels of a side up to which a picture shows a number or a letter and nothing else. */
const SMALL = 48;

/** Whether a text is the number or the letter that the picture shows: a call-out, which a line of the text explains. */
export function isCallOut(text: string, { appearance: a, picture }: RuleContext): boolean {
  if (!/^(?:\(?\d{1,3}[.)]?|\(?[A-Za-z][.)]?)$/.test(text)) return false;
  const own = text.replace(/[().]/g, '').toLowerCase();
  const stem = fileNameOf(picture?.src ?? a.markup.src ?? '').replace(/\.[a-z0-9]{2,5}$/i, '');
  if (picture?.analysis?.text?.trim().toLowerCase() === own) return true;
  if (!/\d/.test(own)) return false;
  if (stem.replace(/^0+(?=\d)/, '') === own) return true;
  const [width, height] = [a.layout.width ?? picture?.width, a.layout.height ?? picture?.height];
  return !!width && !!height && Math.max(width, height) <= SMALL;
}
