import type { DeskPicture, DeskPlace } from '@/contract/desk';
import type { PlaceField } from '@/core/model/texts';
import type { Written } from './autosaver';
import { useFieldText, type WrittenField } from './use-field-text';

/** The texts of a picture besides its alt text, while they are written. */
export interface OtherTexts {
  title: WrittenField;
  caption: WrittenField;
  long: WrittenField;
  fileName: WrittenField;
}

export type OtherText = keyof OtherTexts;

/**
 * @param chosen the places that the alt text is for
 * @param done called after each save of a text, with its act; null where somebody else's is to be chosen from first
 */
export function useOtherTexts(
  collection: string,
  picture: number,
  data: DeskPicture,
  chosen: Written['places'],
  done: (text: OtherText, act: string | null) => void,
): OtherTexts {
  const shown = data.places[0]!;
  const own = { collection, picture };
  const atPlaces = (field: PlaceField) => ({ field, places: placesFor(field, data.places, chosen) });
  return {
    title: useFieldText({
      ...{ ...own, ...atPlaces('title'), saved: shown.title.text },
      done: (act) => done('title', act),
    }),
    caption: useFieldText({
      ...{ ...own, ...atPlaces('caption'), saved: shown.caption.text },
      done: (act) => done('caption', act),
    }),
    long: useFieldText({
      ...{ ...own, field: 'long-description', places: [], saved: data.longDescription.text },
      done: (act) => done('long', act),
    }),
    fileName: useFieldText({
      ...{ ...own, field: 'file-name', places: [], saved: data.fileName.text },
      done: (act) => done('fileName', act),
    }),
  };
}

/** The places that a title or a caption of the shown one is for: of those that are chosen, the ones that say the same now. */
export function placesFor(field: PlaceField, places: readonly DeskPlace[], chosen: Written['places']): number[] {
  const [shown, ...others] = places;
  const alike = others.filter(
    (p) => (chosen === 'all' || chosen.has(p.id)) && p[field].refused === null && p[field].text === shown![field].text,
  );
  return [shown!.id, ...alike.map((p) => p.id)];
}
