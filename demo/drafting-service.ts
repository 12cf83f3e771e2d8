import { createHash, randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import sharp from 'sharp';
import { z } from 'zod';
import { viewToSend } from '../src/server/analysis/view-to-send';
import { PREPARED, type PreparedText } from './prepared-texts';

/** The key of the demo's service: a made-up one, as everything in the demo is. */
export const DEMO_KEY = 'harbour-demo-key';
export const DEMO_MODEL = 'harbour-vision';

const MAX_BODY = 30_000_000;
/** Per million tokens, in euros. */
const PRICE = { in: 2.5, out: 10 };

const Part = z.union([
  z.object({ type: z.literal('text'), text: z.string() }),
  z.object({ type: z.literal('image_url'), image_url: z.object({ url: z.string() }) }),
]);
/** The parts of a chat-completions request that are read here, as the widely used form has them (from memory). */
const Asked = z.object({
  model: z.string().min(1),
  messages: z
    .array(z.object({ role: z.enum(['system', 'user', 'assistant']), content: z.union([z.string(), z.array(Part)]) }))
    .min(1),
});
type Asked = z.infer<typeof Asked>;

const FAULTS = ['401', '402', '429', '500', 'cut', 'malformed', 'prose', 'slow'] as const;

const Control = z.object({
  /** What goes wrong with the next requests, and with how many; null for nothing. */
  fault: z.enum(FAULTS).nullable().optional(),
  times: z.number().int().min(0).optional(),
  retryAfter: z.number().min(0).optional(),
  /** Milliseconds before every answer. */
  delayMs: z.number().min(0).optional(),
  /** Credit in euros. */
  balance: z.number().optional(),
  /** Forgets what was counted. */
  reset: z.boolean().optional(),
});

interface Counts {
  /** Requests that came, and those that were answered and paid. */
  requests: number;
  answered: number;
  /** Those that came again under a key that was answered before: answered from memory, and not paid. */
  repeated: number;
  tokensIn: number;
  tokensOut: number;
  /** How often each picture was asked about and answered, by a hash of its bytes. */
  pictures: Record<string, number>;
  /** The greatest number of requests at the same time. */
  atOnce: number;
}

const nothingCounted = (): Counts => ({
  requests: 0,
  answered: 0,
  repeated: 0,
  tokensIn: 0,
  tokensOut: 0,
  pictures: {},
  atOnce: 0,
});

/** A picture as few numbers: 16 × 16 pixels, RGB. */
async function glance(bytes: Buffer): Promise<Buffer> {
  return sharp(bytes).flatten({ background: '#ffffff' }).resize(16, 16, { fit: 'fill' }).removeAlpha().raw().toBuffer();
}

const distance = (a: Buffer, b: Buffer) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
/** Mean difference of a value (0 to 255) up to which two glances are of one picture. */
const SAME = 5;

async function known(folder: string): Promise<{ glance: Buffer; text: PreparedText }[]> {
  const files = readdirSync(folder).filter((f) => PREPARED[f]);
  return Promise.all(
    files.map(async (file) => ({
      glance: await glance(await viewToSend(readFileSync(path.join(folder, file)), 512)),
      text: PREPARED[file]!,
    })),
  );
}

/** What can be said of a picture that nobody prepared a text for: its shape and its main tone. */
async function fromPixels(bytes: Buffer): Promise<PreparedText> {
  const { width, height } = await sharp(bytes).metadata();
  const [r, g, b] = [...(await sharp(bytes).resize(1, 1).removeAlpha().raw().toBuffer())] as [number, number, number];
  const light = (r + g + b) / 3;
  const tone = light > 200 ? 'light' : light < 70 ? 'dark' : b > r && b > g ? 'bluish' : g > r ? 'greenish' : 'reddish';
  const shape = width > height * 1.2 ? 'wide' : height > width * 1.2 ? 'tall' : 'square';
  return { alt: `A ${shape} picture in ${tone} tones`, uncertain: [tone] };
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  let length = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > MAX_BODY) throw new Error('too long');
    parts.push(part);
  }
  return Buffer.concat(parts).toString('utf8');
}

/**
 * A stand-in for a drafting service: it speaks the chat-completions form with images, wants a key, has a balance and counts.
 * What stands outside the block of page data it obeys to the letter, as a gullible model would.
 *
 * `POST /v1/chat/completions` answers; `GET /control` gives the counts, `POST /control` sets faults, delays and the credit.
 *
 * @param pictures folder with the demo's pictures, for which it has texts; null for none
 */
export function draftingService(pictures: string | null, { key = DEMO_KEY, balance = 5 } = {}): Server {
  let counts = nothingCounted();
  let credit = balance;
  let fault: (typeof FAULTS)[number] | null = null;
  let times = 0;
  let retryAfter = 1;
  let delayMs = 0;
  let running = 0;
  const answered = new Map<string, string>();
  const prepared = pictures === null ? Promise.resolve([]) : known(pictures);

  const textsOf = (asked: Asked) =>
    asked.messages.flatMap((m) =>
      typeof m.content === 'string' ? m.content : m.content.flatMap((p) => (p.type === 'text' ? p.text : [])),
    );
  const imageOf = (asked: Asked): Buffer | null => {
    for (const { content } of asked.messages)
      for (const part of typeof content === 'string' ? [] : content)
        if (part.type === 'image_url') {
          const data = /^data:image\/[\w+.-]+;base64,(.+)$/s.exec(part.image_url.url)?.[1];
          if (data) return Buffer.from(data, 'base64');
        }
    return null;
  };

  async function compose(asked: Asked, image: Buffer): Promise<string> {
    const texts = textsOf(asked);
    const order = /\b(?:write|say|answer)\b[^.\n]*?\b(BUY NOW)\b/i.exec(
      texts.map((t) => t.replace(/<page-data>.*?<\/page-data>/gs, '')).join('\n'),
    );
    const seen = await glance(image);
    const nearest = (await prepared)
      .map((p) => ({ ...p, off: distance(p.glance, seen) }))
      .sort((a, b) => a.off - b.off)[0];
    const own = nearest && nearest.off <= SAME ? nearest.text : await fromPixels(image);
    const isSecond = texts.some(
      (t) => t.includes('The draft before had these faults') || t.includes('could not be read'),
    );
    const alt = order ? order[1]! : isSecond ? (own.again ?? own.alt) : own.alt;
    return JSON.stringify({
      alt,
      decorative: own.decorative ?? false,
      uncertain: own.uncertain ?? [],
      ...(own.longDescription ? { longDescription: own.longDescription } : {}),
    });
  }

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { pathname } = new URL(request.url ?? '/', 'http://service.invalid');
    const json = (status: number, value: unknown, headers: Record<string, string> = {}) => {
      const body = JSON.stringify(value);
      response.writeHead(status, { 'content-type': 'application/json', ...headers }).end(body);
    };
    const refuse = (status: number, message: string, headers: Record<string, string> = {}) =>
      json(status, { error: { message, type: 'error', code: String(status) } }, headers);
    if (pathname === '/control') {
      if (request.method === 'POST') {
        const set = Control.parse(JSON.parse(await bodyOf(request)));
        if (set.fault !== undefined) [fault, times] = [set.fault, set.times ?? 1];
        retryAfter = set.retryAfter ?? retryAfter;
        delayMs = set.delayMs ?? delayMs;
        credit = set.balance ?? credit;
        if (set.reset) counts = nothingCounted();
      }
      return json(200, { ...counts, credit, fault: times > 0 ? fault : null });
    }
    if (pathname === '/v1/models') return json(200, { object: 'list', data: [{ id: DEMO_MODEL, object: 'model' }] });
    if (pathname !== '/v1/chat/completions' || request.method !== 'POST') return refuse(404, 'There is nothing here.');
    counts.requests++;
    const body = await bodyOf(request);
    if (request.headers.authorization !== `Bearer ${key}`) return refuse(401, 'The key is not known.');
    const idempotency = request.headers['idempotency-key'];
    const again = typeof idempotency === 'string' ? answered.get(idempotency) : undefined;
    if (again !== undefined) {
      counts.repeated++;
      response.writeHead(200, { 'content-type': 'application/json' }).end(again);
      return;
    }
    const wrong = times > 0 ? fault : null;
    if (wrong) times--;
    if (wrong === '401') return refuse(401, 'The key is not known.');
    if (wrong === '402' || credit <= 0) return refuse(402, 'The credit is used up.');
    if (wrong === '429') return refuse(429, 'Too many requests.', { 'retry-after': String(retryAfter) });
    if (wrong === '500') return refuse(500, 'Something went wrong.');
    const asked = Asked.safeParse(JSON.parse(body));
    if (!asked.success) return refuse(400, asked.error.issues[0]!.message);
    if (asked.data.model !== DEMO_MODEL) return refuse(404, `There is no model ${asked.data.model}.`);
    const image = imageOf(asked.data);
    if (!image) return refuse(400, 'There is no picture in the request.');
    running++;
    counts.atOnce = Math.max(counts.atOnce, running);
    try {
      await wait(wrong === 'slow' ? 60_000 : delayMs);
      const text =
        wrong === 'malformed'
          ? '{"alt": "A picture, '
          : wrong === 'prose'
            ? 'Here is what I see, though I will not write JSON.'
            : await compose(asked.data, image);
      const { width, height } = await sharp(image).metadata();
      const tokensIn = Math.ceil(textsOf(asked.data).join(' ').length / 4) + Math.ceil((width * height) / 750);
      const tokensOut = Math.ceil(text.length / 4);
      const whole = JSON.stringify({
        id: `chatcmpl-${randomUUID()}`,
        object: 'chat.completion',
        created: Math.floor(Date.now() / 1_000),
        model: DEMO_MODEL,
        choices: [{ index: 0, message: { role: 'assistant', content: text }, finish_reason: 'stop' }],
        usage: { prompt_tokens: tokensIn, completion_tokens: tokensOut, total_tokens: tokensIn + tokensOut },
      });
      if (wrong === 'cut') {
        response.writeHead(200, {
          'content-type': 'application/json',
          'content-length': String(Buffer.byteLength(whole)),
        });
        response.write(whole.slice(0, 40));
        await wait(20);
        return void response.destroy();
      }
      // It counts as answered whether anybody is left to hear it or not.
      counts.answered++;
      counts.tokensIn += tokensIn;
      counts.tokensOut += tokensOut;
      credit -= (tokensIn * PRICE.in + tokensOut * PRICE.out) / 1_000_000;
      const hash = createHash('sha256').update(image).digest('hex');
      counts.pictures[hash] = (counts.pictures[hash] ?? 0) + 1;
      if (typeof idempotency === 'string') answered.set(idempotency, whole);
      response.writeHead(200, { 'content-type': 'application/json' }).end(whole);
    } finally {
      running--;
    }
  }

  return createServer((request, response) => {
    answer(request, response).catch(() => {
      if (!response.headersSent) response.writeHead(400);
      response.end();
    });
  });
}
