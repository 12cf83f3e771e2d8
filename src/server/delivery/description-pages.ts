import path from 'node:path';
import type { DeliveryPage } from '@/contract/delivery';
import { descriptionPage } from '@/core/formats/html/description-page';
import { fileName } from '../catalogue/picture-files';
import { DEFAULT_PLACEMENT } from '@/core/model/texts';
import { ownTitle } from '@/core/words/page-title';
import { fileFor } from './file-for';
import { describedName, isDescribed, type WaitingAppearance } from './page-edits';
import type { PreparedDocument } from './prepare-document';

/** The long descriptions that stand on pages of their own: where they are, and what they hold. */
export class DescriptionPages {
  private readonly rows = new Map<number, WaitingAppearance[]>();

  constructor(waiting: readonly WaitingAppearance[]) {
    for (const row of waiting) {
      const { stand } = row.picture.longPlacement ?? DEFAULT_PLACEMENT;
      if (stand !== 'page' || !isDescribed(row)) continue;
      const { pictureId } = row.appearance;
      this.rows.set(pictureId, [...(this.rows.get(pictureId) ?? []), row]);
    }
  }

  /** Address of the page with the description of a picture, as seen from a page that shows it. */
  hrefFor(pictureId: number, from: string): string | null {
    const own = this.addressOf(pictureId);
    return own === null ? null : hrefBetween(from, own);
  }

  get isEmpty(): boolean {
    return this.rows.size === 0;
  }

  /** The address of every page, by picture, for telling whether any has changed. */
  addresses(): [picture: number, address: string | null][] {
    return [...this.rows.keys()].map((pictureId) => [pictureId, this.addressOf(pictureId)]);
  }

  /** Beside the first page that shows the picture; the same in every delivery. */
  private addressOf(pictureId: number): string | null {
    const first = this.rows.get(pictureId)?.[0];
    if (!first) return null;
    const name = fileName(first.picture.src ?? 'picture')
      .replace(/\.[a-z0-9]+$/i, '')
      .replace(/[^a-z0-9]+/gi, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase();
    const file = `${[name, first.picture.descriptionId].filter(Boolean).join('-')}.html`;
    const at = first.page.path;
    return /^https?:/.test(at) ? new URL(file, at).href : path.posix.join(path.posix.dirname(at), file);
  }

  /** The pages themselves, for those pictures that pages which are delivered lead to. */
  documents(delivered: ReadonlySet<string>): PreparedDocument[] {
    return [...this.rows].flatMap(([pictureId, rows]) => {
      const shown = rows.filter((r) => delivered.has(r.page.path));
      const address = this.addressOf(pictureId);
      const [first] = shown;
      if (!first || address === null) return [];
      const back = [...new Map(shown.map((r) => [r.page.path, r.page])).values()].map((p) => ({
        title: ownTitle(p.title) || p.path,
        href: hrefBetween(address, p.path),
      }));
      const name = describedName(first);
      const { lang } = first.appearance.reading.context;
      const html = descriptionPage({ name, text: first.picture.longDescription!, lang: lang ?? first.page.lang, back });
      const place = { appearanceId: first.appearance.id, pictureId };
      const page: DeliveryPage = {
        ...{ path: address, format: 'html' as const, warnings: [], title: name, file: fileFor(address), isNew: true },
        ...{ refusals: [], conflicts: [], aside: [], leftOut: null, waiting: 1 },
        changes: [
          {
            ...place,
            order: 0,
            part: 'long-description',
            line: 1,
            before: '',
            after: html.trim(),
            reads: first.picture.longDescription,
            heard: null,
            writtenBy: null,
          },
        ],
      };
      return [{ page, before: Buffer.alloc(0), after: Buffer.from(html) }];
    });
  }
}

/** The address of one page as another leads to it: from the root of a site, whatever its `base`, else relative. */
function hrefBetween(from: string, to: string): string {
  if (/^https?:/.test(to)) {
    const { origin, pathname, search } = new URL(to);
    return origin === new URL(from).origin ? pathname + search : to;
  }
  const relative = path.posix.relative(path.posix.dirname(from), to);
  return relative.split('/').map(encodeURIComponent).join('/');
}
