import type { Conflict } from '@/contract/conflict';
import type { DeskLike, DeskPlace, FieldText } from '@/contract/desk';
import type { Line } from '@/contract/galley';
import { readSource } from '@/core/formats/html/read-page';

/** What the server gives, made up, for tests of components. */

export const conflict = (more: Partial<Conflict> = {}): Conflict => ({
  id: 1,
  appearanceId: 11,
  places: 1,
  pictureId: 5,
  picture: 'puffin.jpg',
  thumb: null,
  page: 'Bird reserve',
  kind: 'edit',
  first: null,
  theirs: 'Two puffins',
  ours: 'Puffins on a ledge',
  lang: 'en',
  at: '2026-05-14T09:12:00Z',
  ...more,
});

/** A text as the page says it. */
export const fieldText = (found: string): FieldText => ({ text: found, found, history: [], refused: null });

/** A place of the Desk as a page with this markup has it. */
export function place(html: string, more: Partial<DeskPlace> = {}): DeskPlace {
  const reading = readSource(`<!doctype html><html lang="en"><title>Fares</title><body>${html}`).appearances[0]!;
  return {
    id: 11,
    page: { path: '/fares', lang: 'en', title: 'Fares', description: null, headings: [], directives: [] },
    pageName: 'Fares',
    targetTitle: null,
    isThumbnail: false,
    reading,
    heard: reading.accessible.name,
    state: reading.state,
    purpose: 'informative',
    purposeSettled: false,
    purposeSure: 0.7,
    evidence: [{ id: 'evidence.no-link' }],
    answers: {},
    worded: false,
    waitingDraft: null,
    title: fieldText(reading.markup.title ?? ''),
    caption: fieldText(reading.context.caption ?? ''),
    creditLine: { isShown: false, refused: null },
    findings: [],
    ignored: [],
    history: [],
    ...more,
  };
}

export const lookAlike = (more: Partial<DeskLike> = {}): DeskLike => ({
  id: 6,
  name: 'puffin-2.jpg',
  thumb: null,
  heard: 'Two puffins',
  state: 'described',
  lang: 'en',
  same: false,
  differs: [],
  ...more,
});

export const line = (more: Partial<Line> = {}): Line => ({
  id: 5,
  group: null,
  isPlace: false,
  thumb: null,
  name: 'puffin.jpg',
  type: 'image/jpeg',
  bytes: 51_200,
  width: 400,
  height: 300,
  broken: null,
  kind: 'photo',
  similarGroup: null,
  reason: null,
  reach: 3,
  appearances: 4,
  appearanceId: 11,
  state: 'described',
  heard: 'Two puffins',
  places: 4,
  texts: [],
  textsTotal: 1,
  lang: 'en',
  purpose: 'informative',
  page: 'Bird reserve',
  worded: false,
  draft: null,
  conflict: false,
  revision: 7,
  notes: [],
  ...more,
});
