import { and, eq } from 'drizzle-orm';
import { decodeHtml } from '@/core/formats/html/charset';
import { shownPage } from '@/core/formats/html/shown-page';
import { readFile } from '../blobs/blobs';
import { database } from '../db/database';
import { appearance, page } from '../db/schema';

/** A found page may show, and do nothing else; it may stand in a frame of ours. */
const POLICY =
  "sandbox allow-same-origin; default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'";

const nothing = () => new Response('The page is not stored.', { status: 404 });

/** The page that an appearance stands on, as surveyed, without its scripts and style sheets, with its picture outlined. */
export async function foundPage(collectionId: string, appearanceId: number): Promise<Response> {
  const db = await database();
  const [row] = await db
    .select({ id: page.id, source: page.source, transport: page.transport })
    .from(appearance)
    .innerJoin(page, eq(page.id, appearance.pageId))
    .where(and(eq(appearance.id, appearanceId), eq(appearance.collectionId, collectionId)));
  if (!row) return nothing();
  const bytes = await readFile(row.source).catch(() => null);
  if (!bytes) return nothing();
  const places = await db
    .select({ id: appearance.id, pictureId: appearance.pictureId, reading: appearance.reading })
    .from(appearance)
    .where(and(eq(appearance.pageId, row.id), eq(appearance.gone, false)));
  const tags = places.flatMap(({ id, pictureId, reading: { location } }) =>
    location.kind === 'html'
      ? [{ ...location, src: `/found/${collectionId}/${pictureId}`, isHere: id === appearanceId }]
      : [],
  );
  const { text } = decodeHtml(bytes, row.transport ?? undefined);
  return new Response(shownPage(text, tags), {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': POLICY,
      'x-content-type-options': 'nosniff',
      'cache-control': 'private, no-cache',
    },
  });
}
