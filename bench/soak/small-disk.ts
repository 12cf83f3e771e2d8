import { spawnSync } from 'node:child_process';
import { closeSync, mkdirSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import path from 'node:path';

const CHUNK = Buffer.alloc(1024 * 1024, 1);

/** A small disk in memory where the system lets this process mount one, else a plain folder, which is never filled. */
export class SmallDisk {
  private constructor(
    readonly folder: string,
    readonly isSmall: boolean,
  ) {}

  static make(folder: string, megabytes: number): SmallDisk {
    mkdirSync(folder, { recursive: true });
    const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder]).status === 0;
    return new SmallDisk(folder, mounted);
  }

  private get ballast(): string {
    return path.join(this.folder, 'ballast');
  }

  /** Fills it until nothing more can be written. */
  fill(): void {
    if (!this.isSmall) return;
    const file = openSync(this.ballast, 'a');
    try {
      for (;;) writeSync(file, CHUNK);
    } catch {
      // It is full.
    } finally {
      closeSync(file);
    }
  }

  free(): void {
    rmSync(this.ballast, { force: true });
  }

  get freeMegabytes(): number {
    const { bavail, bsize } = statfsSync(this.folder);
    return Math.round((bavail * bsize) / 1_048_576);
  }

  remove(): void {
    if (this.isSmall) spawnSync('umount', ['-l', this.folder]);
    rmSync(this.folder, { recursive: true, force: true });
  }
}
