import { and, eq, isNull, type SQL } from 'drizzle-orm';
import { refusalBeside, takesLongDescription } from '@/core/formats/html/refusals';
import type { Edit, Part } from '@/core/model/document';
import { DEFAULT_PLACEMENT } from '@/core/model/texts';
import { withTexts } from '@/core/model/wording';
import { CREDIT_SEPARATOR, creditFrom, creditLine, type Credit } from '@/core/model/credit';
import { heard } from '../catalogue/lines';
import { fileName } from '../catalogue/picture-files';
import { descriptionId, hasOwnTexts, mayCarryDescription } from '../catalogue/waiting';
import { pageOrder } from '../catalogue/page-order';
import { among } from '../db/bulk';
import type { Queryable } from '../db/database';
import { appearance, conflict, page, picture } from '../db/schema';
import type { DescriptionPages } from './description-pages';

/** An appearance with texts that wait for delivery, with its page and picture. */
export type WaitingAppearance = Awaited<ReturnType<typeof waitingAppearances>>[number];

/**
 * Appearances with texts that may not be in their pages yet, page by page.
 *
 * @param which tells those of interest by themselves, their pages and their pictures
 */
export async function waitingAppearances(db: Queryable, collectionId: string, which: SQL) {
  const present = and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false), which);
  const ids = new Set<number>();
  for (const waits of [hasOwnTexts, await mayCarryDescription(db, collectionId)]) {
    const rows = await db
      .select({ id: appearance.id })
      .from(appearance)
      .innerJoin(page, eq(page.id, appearance.pageId))
      .innerJoin(picture, eq(picture.id, appearance.pictureId))
      .where(and(present, waits));
    for (const { id } of rows) ids.add(id);
  }
  return db
    .select({
      appearance,
      page,
      picture: {
        src: picture.src,
        longDescription: picture.longDescription,
        longPlacement: picture.longPlacement,
        credit: picture.credit,
        rights: picture.rights,
        descriptionId: descriptionId.as('description_id'),
      },
      open: conflict.id,
    })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .innerJoin(picture, eq(picture.id, appearance.pictureId))
    .leftJoin(conflict, and(eq(conflict.appearanceId, appearance.id), isNull(conflict.settledAt)))
    .where(among(appearance.id, [...ids]))
    .orderBy(pageOrder, appearance.position);
}

/** An appearance as it will be once its texts are in the page. */
const shownAfter = ({ appearance: a }: WaitingAppearance) => withTexts(a.reading, a);

/** Whether the long description of its picture is to stand at an appearance. */
export const isDescribed = (row: WaitingAppearance): boolean =>
  Boolean(row.picture.longDescription) && takesLongDescription(shownAfter(row)) && !hasOtherDescription(row);

/** Whether the page has a long description of its own there. */
function hasOtherDescription({ appearance: a, picture: p }: WaitingAppearance): boolean {
  const { descriptions } = a.reading.accessible;
  // `details` or a link beside it may be what was delivered, which is tied by its id.
  if (descriptions.some((d) => d.target === p.descriptionId)) return false;
  return descriptions.some((d) => d.leads === 'to text' || d.leads === 'elsewhere');
}

/** What a long description is of, as its summary or link says it. */
export function describedName({ appearance: a, picture: p }: WaitingAppearance): string {
  const name = heard(a.reading, a.words, a.title).replace(/\s+/g, ' ').trim() || fileName(p.src ?? '');
  return name.length > MOST_NAME ? `${name.slice(0, MOST_NAME - 1).trimEnd()}…` : name;
}

/** UTF-16 code units of a name, of which a screen reader says every one. */
const MOST_NAME = 80;

/**
 * The credit line that is to stand at an appearance; undefined where it stays as it is.
 *
 * @param note the house style's for words that a machine drafted, empty for none
 * @param drafted a machine drafted the words that wait
 */
function creditEdit({ appearance: a, picture: p }: WaitingAppearance, note: string, drafted: boolean): Edit['credit'] {
  const credit = creditFrom(p.credit, p.rights);
  const line = creditLine(credit);
  const there = a.reading.context.creditLine ?? '';
  const isCredited = a.creditLine ?? (line !== '' && (there === line || there.startsWith(line + CREDIT_SEPARATOR)));
  const isNoted = note !== '' && there.endsWith(note);
  const takesNote = note !== '' && a.words !== '' && refusalBeside(a.reading, 'credit') === null;
  const keepsNote = a.words === null ? isNoted : takesNote && drafted;
  const wanted = { ...(isCredited ? credit : NO_CREDIT), ...(keepsNote ? { note } : {}) };
  if (a.creditLine !== null) return isCredited || keepsNote ? wanted : null;
  if (keepsNote === isNoted) return undefined;
  // A line that says something else than what is recorded is the page's own.
  const isOurs = there === '' || there === creditLine({ ...wanted, note: isNoted ? note : '' });
  if (!isOurs) return undefined;
  return creditLine(wanted) === '' ? null : wanted;
}

const NO_CREDIT: Credit = { credit: '', licence: '', source: '' };

/**
 * Everything that is to be put into the page for an appearance.
 *
 * @param note the house style's for words that a machine drafted, empty for none
 * @param drafted a machine drafted the words that wait
 */
export function editFor(row: WaitingAppearance, ownPages: DescriptionPages, note: string, drafted: boolean): Edit {
  const { appearance: a, picture: p, page: on } = row;
  const edit: Edit = { order: a.position };
  if (a.words !== null) edit.text = a.words;
  if (a.title !== null) edit.title = a.title;
  if (a.caption !== null) edit.caption = a.caption;
  const credit = creditEdit(row, note, drafted);
  if (credit !== undefined) edit.credit = credit;
  if (p.longDescription === null) return edit;
  const wasDelivered = a.reading.accessible.descriptions.some((d) => d.target === p.descriptionId);
  if (isDescribed(row)) {
    const { stand, tie } = p.longPlacement ?? DEFAULT_PLACEMENT;
    const href = stand === 'page' ? ownPages.hrefFor(a.pictureId, on.path) : null;
    const text = p.longDescription;
    return { ...edit, id: p.descriptionId, longDescription: { stand, tie, text, name: describedName(row), href } };
  }
  return wasDelivered ? { ...edit, id: p.descriptionId, longDescription: null } : edit;
}

/** Which parts of an appearance an edit is about. */
export const partsOf = (edit: Edit): Part[] => [
  ...(edit.text !== undefined || edit.title !== undefined ? (['attributes'] as const) : []),
  ...(edit.caption === undefined ? [] : (['caption'] as const)),
  ...(edit.credit === undefined ? [] : (['credit'] as const)),
  ...(edit.longDescription === undefined ? [] : (['long-description'] as const)),
];
