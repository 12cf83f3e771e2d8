import { meansDatabaseDown } from '../db/database-errors';
import { meansDiskFull } from '../disk';
import { log, messageOf } from '../log';
import { WriteBuffer, type VisitValues } from './write-buffer';

/**
 * Writes a batch that failed as a whole part by part, pictures first. A page or picture that fails alone is left out, and
 * its visit says why; when nothing can be written, the batch was not at fault.
 *
 * @param failure what the whole batch failed with
 * @param skipped called with each visit, as it stood, that is skipped now
 * @throws the failure when it is the database's or the disk's, or when every part fails
 */
export async function keepOneByOne(
  batch: WriteBuffer,
  failure: unknown,
  write: (part: WriteBuffer) => Promise<void>,
  skipped: (visit: VisitValues) => void,
): Promise<void> {
  if (meansDatabaseDown(failure) || meansDiskFull(failure)) throw failure;
  log.warn(
    { message: messageOf(failure) },
    'a batch could not be written; its pages and pictures are written one by one',
  );
  let written = 0;
  for (const part of parts(batch)) {
    try {
      await write(part);
      written++;
    } catch (error) {
      if (meansDatabaseDown(error) || meansDiskFull(error)) throw error;
      log.warn({ message: messageOf(error) }, 'a page or picture could not be written and is skipped');
      for (const visit of part.visits.values()) skipped(visit);
      await write(skippedPart(part)).then(
        () => written++,
        (again: unknown) => log.error({ message: messageOf(again) }, 'a visit could not be written'),
      );
    }
  }
  if (written === 0) throw failure;
}

/** One part for each picture, with its addresses; one for each page; one for what is as it was; then the other visits. */
function* parts(batch: WriteBuffer): Generator<WriteBuffer> {
  const left = new Map(batch.visits);
  const visitsTo = (part: WriteBuffer, kind: string, addresses: Iterable<string>) => {
    for (const address of addresses) {
      const key = `${kind} ${address}`;
      const visit = left.get(key);
      if (visit) part.visits.set(key, visit);
      left.delete(key);
    }
  };
  const file = (part: WriteBuffer, sha256: string | null | undefined) => {
    const bytes = sha256 ? batch.files.get(sha256) : undefined;
    if (bytes) part.keep(sha256!, bytes);
  };
  for (const [key, values] of batch.pictures) {
    const part = new WriteBuffer();
    part.pictures.set(key, values);
    const sources = [...batch.sources].filter(([, source]) => source.key === key);
    for (const [address, source] of sources) part.sources.set(address, source);
    file(part, values.sha256);
    visitsTo(
      part,
      'picture',
      sources.map(([address]) => address),
    );
    yield part;
  }
  for (const page of batch.pages) {
    const part = new WriteBuffer();
    part.pages.push(page);
    file(part, page.source);
    visitsTo(part, 'page', [page.gathered.address]);
    yield part;
  }
  for (const address of batch.unchanged) {
    const part = new WriteBuffer();
    part.unchanged.push(address);
    visitsTo(part, 'page', [address]);
    yield part;
  }
  const rest = new WriteBuffer();
  for (const [key, visit] of left) rest.visits.set(key, visit);
  if (!rest.isEmpty) yield rest;
}

/** The visits of a part that failed, as skipped. */
function skippedPart(part: WriteBuffer): WriteBuffer {
  const out = new WriteBuffer();
  for (const [key, visit] of part.visits)
    out.visits.set(key, {
      ...visit,
      state: 'skipped',
      reason: { id: 'skip.not-storable' },
      cause: 'unreadable',
      settledAt: visit.settledAt ?? new Date(),
    });
  return out;
}
