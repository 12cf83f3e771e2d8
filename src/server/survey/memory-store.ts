import { plain, type Message } from '@/core/model/message';
import { Frontier, type Waiting } from './frontier';
import { Skipped } from './source';
import type { GatheredDocument, GatheredPage, GatheredPicture, SurveyStore } from './store';

const NOTHING = Buffer.alloc(0);

/** Keeps a survey in memory: for the command line, which answers once and is gone. */
export class MemoryStore implements SurveyStore {
  readonly loaded: Promise<void> = Promise.resolve();
  readonly pages: GatheredPage[] = [];
  /** What is to be known of documents. */
  readonly notes: { address: string; note: Message }[] = [];
  readonly pictures = new Map<string, GatheredPicture>();
  private readonly passedOver = new Map<string, Skipped>();
  private readonly bySameKey = new Map<string, string>();
  private readonly frontier: Frontier;

  constructor(
    maxPages: number,
    private readonly onProgress: (store: MemoryStore) => void = () => undefined,
  ) {
    this.frontier = new Frontier(maxPages);
  }

  async enqueue(addresses: Waiting[]): Promise<void> {
    for (const { address, state, reason, cause } of this.frontier.add(addresses))
      if (state === 'skipped') this.passedOver.set(address, new Skipped(reason ?? plain(''), cause ?? undefined));
  }

  async next(): Promise<Waiting | null> {
    return this.frontier.next();
  }

  async page(page: GatheredPage): Promise<void> {
    // Two addresses may redirect to one page, or show the same.
    if (this.frontier.isDone(page.address)) return;
    const same = page.sameKey === null ? undefined : this.bySameKey.get(page.sameKey);
    if (same)
      return this.skip(
        page.address,
        new Skipped({ id: 'skip.same-page', values: { address: same } }, 'same-page', page.status),
      );
    if (page.sameKey !== null) this.bySameKey.set(page.sameKey, page.address);
    this.frontier.settle(page.address, 'done', {});
    this.pages.push(page);
  }

  async document({ address, pages, note }: GatheredDocument): Promise<void> {
    if (this.frontier.isDone(address)) return;
    this.frontier.settle(address, 'done', {});
    if (note) this.notes.push({ address, note });
    this.pages.push(...pages);
  }

  async skip(address: string, skipped: Skipped): Promise<void> {
    if (this.frontier.settle(address, 'skipped', {})) this.passedOver.set(address, skipped);
  }

  async leave(addresses: { address: string; foundOn: string; skipped: Skipped }[]): Promise<void> {
    const left = new Map(addresses.map(({ address, skipped }) => [address, skipped]));
    for (const { address } of this.frontier.leave(addresses)) {
      const skipped = left.get(address);
      if (skipped) this.passedOver.set(address, skipped);
    }
  }

  async sheet(address: string, _: string, skipped: Skipped | null): Promise<void> {
    if (skipped?.why === 'limit') this.passedOver.set(address, skipped);
  }

  /** The command line keeps nothing from one survey to the next. */
  async knownPage(): Promise<null> {
    return null;
  }

  async knownPicture(): Promise<null> {
    return null;
  }

  async unchanged(): Promise<void> {
    throw new Error('nothing is known to be unchanged');
  }

  async pictureUnchanged(): Promise<void> {
    throw new Error('nothing is known to be unchanged');
  }

  /** What was passed over and was not read on another way; links to other hosts and the like left out. */
  get skipped(): { address: string; reason: Message }[] {
    const read = new Set(this.pages.map((p) => p.address));
    return [...this.passedOver]
      .filter(([address, { why }]) => !read.has(address) && why !== 'other-host' && why !== 'nofollow')
      .map(([address, { reason }]) => ({ address, reason }));
  }

  async hasPicture(address: string): Promise<boolean> {
    return this.pictures.has(address);
  }

  /** What is in its file is of no interest here any more. */
  async picture(picture: GatheredPicture): Promise<void> {
    this.pictures.set(picture.address, picture.found ? { ...picture, bytes: NOTHING } : picture);
  }

  async progress(): Promise<void> {
    this.onProgress(this);
  }

  get waitingCount(): number {
    return this.frontier.waitingCount;
  }
}
