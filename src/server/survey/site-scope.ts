import type { Scope } from '@/contract/scope';
import { pathPattern } from './robots';
import { Skipped } from './source';

/** Names that are no pages; links to them are not followed. */
const NOT_A_PAGE =
  /\.(?:png|jpe?g|gif|webp|avif|svg|ico|bmp|tiff?|css|js|mjs|json|xml|rss|atom|pdf|zip|gz|tgz|xz|bz2|tar|7z|mp[34]|m4[av]|webm|ogg|wav|woff2?|ttf|otf|eot|docx?|pptx?|xlsx?|od[tps]|epub|txt|ics|exe|dmg|deb)$/i;

/** Of those, what is a document of its own where a survey wants documents. */
const DOCUMENT = /\.(?:docx|pptx|xlsx|od[tps]|epub|pdf)$/i;

/** Which addresses belong to a survey: its hosts, its path, its patterns. */
export class SiteScope {
  private readonly hosts: ReadonlySet<string>;
  private readonly include: ((path: string) => boolean)[];
  private readonly exclude: ((path: string) => boolean)[];

  constructor(
    starts: readonly URL[],
    private readonly scope: Scope,
  ) {
    this.hosts = new Set(starts.map((s) => s.host));
    this.include = scope.include.map(pathPattern);
    this.exclude = scope.exclude.map(pathPattern);
  }

  /** Null when an address is a page of the survey, `'no page'` when it is none at all, else why it is left out. */
  outside(address: string): Skipped | 'no page' | null {
    const url = new URL(address);
    const isDocument = this.scope.documents && DOCUMENT.test(url.pathname);
    if (!isDocument && NOT_A_PAGE.test(url.pathname)) return 'no page';
    if (!this.hosts.has(url.host))
      return new Skipped({ id: 'skip.other-host', values: { host: url.host } }, 'other-host');
    const path = url.pathname + url.search;
    if (this.scope.prefix && !path.startsWith(this.scope.prefix))
      return new Skipped({ id: 'skip.prefix', values: { prefix: this.scope.prefix } }, 'left-out');
    if (this.exclude.some((matches) => matches(path))) return new Skipped({ id: 'skip.excluded' }, 'left-out');
    if (this.include.length > 0 && !this.include.some((matches) => matches(path)))
      return new Skipped({ id: 'skip.not-included' }, 'left-out');
    return null;
  }

  isOwnHost(url: URL): boolean {
    return this.hosts.has(url.host);
  }
}
