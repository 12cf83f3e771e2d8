import { readFileSync } from 'node:fs';
import path from 'node:path';
import { setWasmPaths } from '@tensorflow/tfjs-backend-wasm';
import { loadGraphModel, type GraphModel } from '@tensorflow/tfjs-converter';
import * as tf from '@tensorflow/tfjs-core';
import sharp from 'sharp';
import type { Box, Thing } from '@/core/picture/recognised';
import { agreedThings, agreementOn, CLASS_COUNT, distinct, PERSON, type Detection } from '@/core/picture/things';
import { MAX_PIXELS } from './picture-view';

const MODELS = path.join(process.cwd(), 'node_modules', '@vladmandic', 'human-models', 'models');
const WASM = path.join(process.cwd(), 'node_modules', '@tensorflow', 'tfjs-backend-wasm', 'dist', path.sep);

/** Sides of what the models take in, in pixels. */
const PLACED = 512;
const SCORED = 416;
const FACES = 256;
/** Of the first detector: below, even a certain second one makes no agreement (the geometric mean has to reach 0.5). */
const WORTH_ASKING = 0.25;
/** Of the first detector, below which a detection is noise. */
const NOISE = 0.2;
const FACE = 0.75;
/** Agreement on a person from which faces are counted; animals have faces too. */
const HAS_PERSON = 0.4;
/** Most that are counted. */
const MANY = 40;

interface Detectors {
  placed: GraphModel;
  scored: GraphModel;
  faces: GraphModel;
}
let opened: Promise<Detectors> | null = null;

/** Reads the weights that ship with Detto; nothing is fetched. */
async function open(): Promise<Detectors> {
  setWasmPaths(WASM);
  await tf.setBackend('wasm');
  await tf.ready();
  const load = (name: string) => {
    const model = JSON.parse(readFileSync(path.join(MODELS, `${name}.json`), 'utf8')) as {
      modelTopology: object;
      weightsManifest: { weights: tf.io.WeightsManifestEntry[] }[];
      format: string;
      signature: object;
    };
    const weights = readFileSync(path.join(MODELS, `${name}.bin`));
    return loadGraphModel(
      tf.io.fromMemory({
        modelTopology: model.modelTopology,
        weightSpecs: model.weightsManifest.flatMap((w) => w.weights),
        weightData: weights.buffer.slice(weights.byteOffset, weights.byteOffset + weights.byteLength) as ArrayBuffer,
        format: model.format,
        signature: model.signature,
      }),
    );
  };
  return { placed: await load('centernet'), scored: await load('nanodet'), faces: await load('blazeface-back') };
}

/**
 * Things that two general detectors (CenterNet and NanoDet, both trained on COCO) agree on, and how many faces there are.
 * Nobody is recognised.
 *
 * @throws Error where the picture cannot be decoded
 */
export async function thingsIn(bytes: Buffer): Promise<{ things: Thing[]; faces: number }> {
  opened ??= open();
  const models = await opened;
  const pixels = (side: number) =>
    sharp(bytes, { limitInputPixels: MAX_PIXELS })
      .autoOrient()
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .resize(side, side, { fit: 'fill' })
      .removeAlpha()
      .raw()
      .toBuffer();
  const placed = place(models.placed, await pixels(PLACED));
  // Where the first is too unsure for any agreement, the second need not be asked.
  if (!placed.some((d) => d.sure >= WORTH_ASKING || d.class === PERSON)) return { things: [], faces: 0 };
  const best = score(models.scored, await pixels(SCORED));
  const person = agreementOn(PERSON, placed, best) >= HAS_PERSON;
  return {
    things: agreedThings(placed, best),
    faces: person ? countFaces(models.faces, await pixels(FACES)) : 0,
  };
}

/** CenterNet: rows of left, top, right, bottom, score, class. */
function place(model: GraphModel, pixels: Buffer): Detection[] {
  const rows = tf.tidy(() => {
    const input = tf.tensor(Float32Array.from(pixels), [1, PLACED, PLACED, 3]);
    return (model.execute(input, 'tower_0/detections') as tf.Tensor3D).arraySync()[0]!;
  });
  return rows
    .filter((row) => row[4]! >= NOISE)
    .map(([left, top, right, bottom, sure, number]) => ({
      class: number!,
      sure: sure!,
      box: within(left! / PLACED, top! / PLACED, right! / PLACED, bottom! / PLACED),
    }));
}

/** NanoDet: the best score of each class over all places; it takes blue, green, red, normalised as it was trained. */
function score(model: GraphModel, pixels: Buffer): number[] {
  const n = SCORED * SCORED;
  const input = new Float32Array(n * 3);
  for (let i = 0; i < n; i++) {
    input[i] = (pixels[i * 3 + 2]! - 103.53) / 57.375;
    input[n + i] = (pixels[i * 3 + 1]! - 116.28) / 57.12;
    input[2 * n + i] = (pixels[i * 3]! - 123.675) / 58.395;
  }
  return tf.tidy(() => {
    const outputs = model.execute(tf.tensor(input, [1, 3, SCORED, SCORED])) as tf.Tensor[];
    const best = Array.from({ length: CLASS_COUNT }, () => 0);
    for (const scores of outputs.filter((o) => o.shape[2] === CLASS_COUNT).map((o) => o.dataSync()))
      for (let i = 0; i < scores.length; i++) best[i % CLASS_COUNT] = Math.max(best[i % CLASS_COUNT]!, scores[i]!);
    return best;
  });
}

/** BlazeFace (full range): 896 anchors on grids of 16 × 16 (two each) and 8 × 8 (six each). */
function countFaces(model: GraphModel, pixels: Buffer): number {
  const found = tf.tidy(() => {
    const input = tf.tensor(
      Float32Array.from(pixels, (v) => v / 127.5 - 1),
      [1, FACES, FACES, 3],
    );
    const outputs = (model.execute(input) as tf.Tensor[]).map((o) => ({ shape: o.shape, data: o.dataSync() }));
    return [
      { grid: 16, each: 2 },
      { grid: 8, each: 6 },
    ].flatMap(({ grid, each }) => {
      const n = grid * grid * each;
      const scores = outputs.find((o) => o.shape[1] === n && o.shape[2] === 1)!.data;
      const boxes = outputs.find((o) => o.shape[1] === n && o.shape[2] === 16)!.data;
      return Array.from({ length: n }, (_, i) => {
        const cell = Math.floor(i / each);
        const x = ((cell % grid) + 0.5) / grid + boxes[i * 16]! / FACES;
        const y = (Math.floor(cell / grid) + 0.5) / grid + boxes[i * 16 + 1]! / FACES;
        const [w, h] = [boxes[i * 16 + 2]! / FACES, boxes[i * 16 + 3]! / FACES];
        return { sure: 1 / (1 + Math.exp(-scores[i]!)), box: { x: x - w / 2, y: y - h / 2, width: w, height: h } };
      });
    });
  });
  const sure = found.filter((f) => f.sure >= FACE).sort((a, b) => b.sure - a.sure);
  return distinct(sure.slice(0, 10 * MANY).map((f) => f.box)).length;
}

function within(left: number, top: number, right: number, bottom: number): Box {
  const clip = (v: number) => Math.round(Math.max(0, Math.min(1, v)) * 1000) / 1000;
  const [x, y] = [clip(left), clip(top)];
  return { x, y, width: clip(right) - x, height: clip(bottom) - y };
}
