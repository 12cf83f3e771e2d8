import type { DeskPicture, DeskPlace, FieldText, TextVersion } from '@/contract/desk';
import { refusalBeside, takesLongDescription, titleRefusalFor } from '@/core/formats/html/refusals';
import type { Message } from '@/core/model/message';
import type { Picture } from '@/core/model/picture';
import { saysCredit } from '@/core/model/says-credit';
import { DEFAULT_PLACEMENT, pageText, type PlaceField, type TextField } from '@/core/model/texts';
import { withTexts } from '@/core/model/wording';
import { creditLine, type Credit } from '@/core/model/credit';
import { fileNameOf } from '@/core/picture/file-name';
import type { RuleContext } from '@/core/model/rule-context';
import { proposedFileName } from '@/core/rules/support/proposed-file-name';
import type { Collection } from '../catalogue/collections';
import type { appearance, picture } from '../db/schema';
import type { fieldTextsOf } from '../wordings/field-texts';

type Appearance = typeof appearance.$inferSelect;
type History = Awaited<ReturnType<typeof fieldTextsOf>>;

const versionsIn = (history: History, field: TextField, place: number | null): TextVersion[] =>
  history
    .filter((h) => h.field === field && h.appearanceId === place)
    .map(({ id, text, by, state, act, at }) => ({ id, text, by, state, act, at }));

/** The texts that a place has of its own, besides its alt text. */
export function placeTexts(
  a: Appearance,
  history: History,
  credit: Credit,
): Pick<DeskPlace, 'title' | 'caption' | 'creditLine'> {
  const textOf = (field: PlaceField, refused: Message | null): FieldText => {
    const found = pageText(a.reading, field);
    return { text: a[field] ?? found, found, history: versionsIn(history, field, a.id), refused };
  };
  return {
    title: textOf('title', titleRefusalFor(a.reading) ?? titleOfDecorative(a)),
    caption: textOf('caption', refusalBeside(a.reading, 'caption')),
    creditLine: {
      isShown: a.creditLine ?? saysCredit(a.reading, creditLine(credit)),
      refused: refusalBeside(a.reading, 'credit'),
    },
  };
}

/** A title would be announced where the picture is decorative; one that is there can be removed. */
const titleOfDecorative = (a: Appearance): Message | null =>
  a.state === 'decorative' && (a.title ?? pageText(a.reading, 'title')) === ''
    ? { id: 'refusal.decorative-title' }
    : null;

/** The texts that belong to a picture. @param places where it stands, the shown one first */
export function pictureTexts(
  row: typeof picture.$inferSelect,
  places: readonly [Appearance, ...Appearance[]],
  history: History,
): Pick<DeskPicture, 'longDescription'> {
  const takers = places.filter((a) => takesLongDescription(withTexts(a.reading, a)));
  const reason = refusalBeside(places[0].reading, 'long-description') ?? { id: 'refusal.decorative' };
  return {
    longDescription: {
      ...{ text: row.longDescription ?? '', found: '' },
      history: versionsIn(history, 'long-description', null),
      refused: takers.length === 0 ? reason : null,
      placement: row.longPlacement ?? DEFAULT_PLACEMENT,
      places: takers.length,
    },
  };
}

/** The name of a picture's file, and what it could be called by its alt text. */
export function fileNameText(
  c: Pick<Collection, 'kind' | 'root'>,
  row: typeof picture.$inferSelect,
  shown: Omit<RuleContext, 'picture'> & { picture: Picture },
  history: History,
): DeskPicture['fileName'] {
  const found = fileNameOf(row.src ?? '');
  const refused = renameRefusal(c, row.src);
  return {
    ...{ text: row.fileName ?? found, found, refused },
    history: versionsIn(history, 'file-name', null),
    proposal: refused === null ? proposedFileName(shown) : null,
  };
}

/** Why the file of a picture cannot be renamed by whoever keeps the collection; null when it can. */
export function renameRefusal({ kind, root }: Pick<Collection, 'kind' | 'root'>, src: string | null): Message | null {
  if (fileNameOf(src ?? '') === '') return { id: 'refusal.no-file' };
  const host = (address: string) => (URL.canParse(address) ? new URL(address).host : null);
  const isElsewhere = /^https?:/i.test(src!) && (kind !== 'site' || host(src!) !== host(root));
  return isElsewhere ? { id: 'refusal.other-host', values: { host: host(src!) ?? '' } } : null;
}
