import { and, eq } from 'drizzle-orm';
import { formatById } from '@/core/formats';
import { decodeHtml } from '@/core/formats/html/charset';
import { shownPage } from '@/core/formats/html/shown-page';
import type { Appearance, Box } from '@/core/model/appearance';
import type { FormatId } from '@/core/model/document';
import { wordsOf } from '@/core/words/graphemes';
import { readFile } from '../blobs/blobs';
import { database } from '../db/database';
import { appearance, page } from '../db/schema';
import { openView, type DocumentView } from '../workers/document-view';
import { sharedReaders } from '../workers/reader-pool';

/** A found page may show, and do nothing else; it may stand in a frame of ours. */
const POLICY =
  "sandbox allow-same-origin; default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'";
/** Share by which the sides of a picture may differ from what its document says of it. */
const CLOSE = 0.04;

const nothing = () => new Response('The page is not stored.', { status: 404 });

const answer = (html: string) =>
  new Response(html, {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': POLICY,
      'x-content-type-options': 'nosniff',
      // Else the hosts of its links would be looked up.
      'x-dns-prefetch-control': 'off',
      'cache-control': 'private, no-cache',
    },
  });

/** What a page of a document says where it cannot be drawn. */
export interface PageWords {
  /** In place of the page: what has to be installed. */
  notDrawn: string;
  /** Where the picture stands among the text. */
  here: string;
}

async function placesOf(collectionId: string, pageId: number, appearanceId: number) {
  const db = await database();
  const places = await db
    .select({ id: appearance.id, pictureId: appearance.pictureId, reading: appearance.reading })
    .from(appearance)
    .where(and(eq(appearance.pageId, pageId), eq(appearance.gone, false)));
  return places.flatMap(({ id, pictureId, reading: { location } }) =>
    location.kind === 'html'
      ? [{ ...location, src: `/found/${collectionId}/${pictureId}`, isHere: id === appearanceId }]
      : [],
  );
}

/**
 * The page that an appearance stands on, as surveyed, with its picture outlined: a web page or a chapter without its
 * scripts and style sheets, a slide or a page of a document as a picture, or its text where it cannot be drawn.
 */
export async function foundPage(collectionId: string, appearanceId: number, words: PageWords): Promise<Response> {
  const db = await database();
  const [row] = await db
    .select({ page, appearance })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.id, appearanceId), eq(appearance.collectionId, collectionId)));
  if (!row) return nothing();
  const bytes = await readFile(row.page.source).catch(() => null);
  if (!bytes) return nothing();
  const { format, document, path, transport } = row.page;
  const fragment = document === null ? null : path.slice(document.length + 1);
  if (format === 'html' || format === 'epub' || format === 'mail') {
    const text =
      format === 'html'
        ? decodeHtml(bytes, transport ?? undefined).text
        : await formatById(format).markup!(bytes, fragment);
    return answer(shownPage(text, await placesOf(collectionId, row.page.id, appearanceId)));
  }
  const { reading, pictureId } = row.appearance;
  const view = await openView(row.page.source, format, bytes);
  const shown = view && (await shownOn(view, format, fragment, reading, row.page.id));
  const png = view && shown ? await view.draw(shown.page) : null;
  return answer(documentPage(reading, `/found/${collectionId}/${pictureId}`, png, shown?.box ?? null, words));
}

/** The page that a picture was laid out on, from 1, and its box there. */
interface Shown {
  page: number;
  box: Box | null;
}

/** Where an appearance is to be seen: slides and sheets by their numbers, others where the layout put them. */
async function shownOn(
  view: DocumentView,
  format: FormatId,
  fragment: string | null,
  reading: Appearance,
  pageId: number,
): Promise<Shown> {
  const box = reading.layout.box ?? null;
  const numbered = /^(?:slide|sheet)=(\d+)$/.exec(fragment ?? '')?.[1];
  if (numbered) return { page: Number(numbered), box };
  const { spot, before, after } = reading.context;
  if (format === 'pdf') return { page: Number(spot?.values?.['page'] ?? 1), box };
  const laidOut = await bySize(view, reading, pageId);
  if (laidOut) return laidOut;
  const around = new Set(wordsOf(`${before.slice(-160)} ${after.slice(0, 160)}`).map((w) => w.toLowerCase()));
  const counts = (await view.texts()).map((text) => wordsOf(text).filter((w) => around.has(w.toLowerCase())).length);
  return { page: Math.max(1, counts.indexOf(Math.max(...counts)) + 1), box: null };
}

/** The place of a picture among those of its size, where the layout has as many of them as the document. */
async function bySize(view: DocumentView, { order, layout }: Appearance, pageId: number): Promise<Shown | null> {
  const { width, height } = layout;
  if (width === null || height === null) return null;
  const isClose = (a: number | null, b: number) => a !== null && Math.abs(a - b) <= CLOSE * b + 1;
  const isSame = (a: Pick<Appearance, 'layout'>) => isClose(a.layout.width, width) && isClose(a.layout.height, height);
  const laidOut = await sharedReaders()
    .document(await view.bytes(), 'pdf', 'view.pdf')
    .catch(() => null);
  const drawn = (laidOut?.pages[0]?.reading.appearances ?? []).filter(isSame);
  const db = await database();
  const all = await db
    .select({ reading: appearance.reading })
    .from(appearance)
    .where(and(eq(appearance.pageId, pageId), eq(appearance.gone, false)))
    .orderBy(appearance.position);
  const same = all.map((a) => a.reading).filter(isSame);
  const found = drawn.length === same.length ? drawn[same.findIndex((a) => a.order === order)] : undefined;
  return found ? { page: Number(found.context.spot?.values?.['page'] ?? 1), box: found.layout.box ?? null } : null;
}

const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');
const percent = (share: number) => `${Math.round(share * 10_000) / 100}%`;

function documentPage(
  { context }: Appearance,
  picture: string,
  png: Buffer | null,
  box: Box | null,
  words: PageWords,
): string {
  const outline = box
    ? `<span id="detto-here" style="position:absolute;left:${percent(box.left)};top:${percent(box.top)};width:${percent(box.width)};` +
      `height:${percent(box.height)};outline:4px solid #243f8f;outline-offset:2px"></span>`
    : '';
  const drawn = png
    ? `<div style="position:relative"><img style="display:block;width:100%" alt="" src="data:image/png;base64,${png.toString('base64')}">${outline}</div>`
    : `<p><em>${escaped(words.notDrawn)}</em></p>`;
  const passage = [
    context.headings.map(escaped).join(' › '),
    escaped(context.before),
    `<mark>${escaped(words.here)}</mark>`,
  ];
  const text = png
    ? ''
    : `<p>${[...passage, `<img style="max-width:100%" alt="" src="${picture}">`, escaped(context.after)].join('</p><p>')}</p>`;
  return `<!doctype html><meta charset="utf-8"><title>.</title><body style="margin:8px;font:16px/1.5 serif">${drawn}${text}`;
}
