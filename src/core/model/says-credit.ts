import { CREDIT_SEPARATOR } from './credit';
import type { Appearance } from './appearance';

/** Characters after a picture in which a credit line is looked for that the page has of its own. */
const NEAR = 300;

/** Whether the page has a credit line below a picture, with a note behind it or without; an empty one stands nowhere. */
export const saysCredit = (a: Appearance, line: string): boolean =>
  line !== '' &&
  (a.context.creditLine === line ||
    (a.context.creditLine?.startsWith(line + CREDIT_SEPARATOR) ?? false) ||
    a.context.after.slice(0, NEAR).includes(line));
