/**
 * A thread of its own that reads pages and the heads of pictures: what it reads is hostile, so it may be ended at any
 * moment. It takes one task at a time and answers it.
 */
import { parentPort } from 'node:worker_threads';
import { imageSize } from 'image-size';
import type { Message } from '@/core/model/message';
import type { PageReading } from '@/core/model/page';
import { addRendered, readPage } from '@/core/formats/html/read-page';
import { pictureType, svgSize } from '@/core/picture/signatures';
import { sizedFacts } from '@/server/workers/picture-header';
import type { Answer, PictureFacts, ReadTask } from '@/server/workers/tasks';
import { sayBegun } from './begun';
import { collect } from './collect';

function readPicture(bytes: Buffer): PictureFacts {
  const type = pictureType(bytes);
  const unknown = sizedFacts(bytes, type, { width: null, height: null });
  if (type === null) return { ...unknown, broken: notAPicture(bytes) };
  try {
    return sizedFacts(bytes, type, sizeOf(type, bytes));
  } catch (error) {
    return { ...unknown, broken: { id: 'broken.undecodable', values: { detail: firstLine(error) } } };
  }
}

/** Null for what is not known; a turned photo is as wide as it is shown. */
function sizeOf(type: string, bytes: Buffer): Pick<PictureFacts, 'width' | 'height'> {
  if (type === 'image/svg+xml') return svgSize(bytes.toString('utf8')) ?? { width: null, height: null };
  const { width, height, orientation = 1 } = imageSize(bytes);
  const [w, h] = orientation >= 5 ? [height, width] : [width, height];
  return { width: w || null, height: h || null };
}

function notAPicture(bytes: Buffer): Message {
  if (bytes.length === 0) return { id: 'broken.empty' };
  const isPage = /^\s*(?:<!doctype html|<html)/i.test(bytes.subarray(0, 512).toString('latin1'));
  return { id: isPage ? 'broken.html' : 'broken.other' };
}

const firstLine = (error: unknown) => (error instanceof Error ? error.message : String(error)).split('\n')[0]!;

async function perform(task: ReadTask): Promise<PageReading | PictureFacts> {
  if (task.kind === 'rendered') return addRendered(task.reading, task.snapshot);
  const { bytes } = task;
  if (task.kind === 'picture') return readPicture(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  const { transport, sheets } = task;
  return readPage(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), transport, sheets);
}

parentPort!.on('message', (task: ReadTask | 'rest') => {
  if (task === 'rest') return collect();
  const answer = (given: Answer<PageReading | PictureFacts>) => parentPort!.postMessage(given);
  perform(task).then(
    (result) => answer({ result }),
    (error: unknown) => answer({ error: firstLine(error) }),
  );
});
sayBegun();
