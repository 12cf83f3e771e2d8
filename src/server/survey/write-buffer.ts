import type { picture, visit } from '../db/schema';
import type { GatheredPage } from './store';

export type PictureValues = typeof picture.$inferInsert;
export type VisitValues = typeof visit.$inferInsert;

/** What was gathered and is not written yet. */
export class WriteBuffer {
  /** By kind and address, the latest. */
  readonly visits = new Map<string, VisitValues>();
  readonly pictures = new Map<string, PictureValues>();
  /** By address: the key of its picture, and what its server says of its state. */
  readonly sources = new Map<string, { key: string; etag: string | null; lastModified: string | null }>();
  readonly pages: { gathered: GatheredPage; source: string }[] = [];
  readonly unchanged: string[] = [];
  /** By SHA-256. */
  readonly files = new Map<string, Buffer>();
  /** Of the files. */
  bytes = 0;

  keep(sha256: string, file: Buffer): void {
    if (this.files.has(sha256)) return;
    this.files.set(sha256, file);
    this.bytes += file.length;
  }

  get isEmpty(): boolean {
    return this.visits.size + this.pictures.size + this.sources.size + this.pages.length + this.unchanged.length === 0;
  }
}
