import { setTimeout as wait } from 'node:timers/promises';
import { createOpenAICompatible } from '@ai-sdk/openai-compatible';
import { APICallError, generateText, type ModelMessage } from 'ai';
import sharp from 'sharp';
import { readAnswer, type DraftAnswer } from '@/core/draft/answer';
import type { Draft } from '@/core/draft/draft';
import { composePrompt, repairRequest, type WantedText } from '@/core/draft/prompt';
import type { Message } from '@/core/model/message';
import { readFile } from '../blobs/blobs';
import { config } from '../config';
import { guardedFetch } from '../net/guarded-fetch';
import type { Allowed } from '../net/allowed';
import { RefusedAddress } from '../net/guard';
import { unseal } from '../secrets/seal';
import { sharedReaders } from '../workers/reader-pool';
import { DraftingError } from './drafting-error';
import type { Drafter, DraftRequest, DraftResult, DraftWish } from './drafter';
import { gateOf } from './service-gate';
import { hostOf } from './service-address';
import { costOf, pictureTokens } from './service-cost';
import type { Ledger } from './ledger';
import type { ServiceRow } from './services';

export interface ModelDrafterOptions {
  service: ServiceRow;
  collectionId: string;
  roundId: number | null;
  /** Version of the prompt, as it is kept with drafts. */
  prompt: string;
  /** What is wrong with the words of a draft, in words for the model; where that is something, it is asked once more. */
  faultsOf(request: DraftRequest, draft: Draft): Promise<readonly string[]>;
  /** Where the money for its requests comes from. */
  ledger: Ledger;
  /** The key, and where a picture's file is; as this data folder keeps them when not given. */
  access?: Access;
}

/** What a request needs besides what is asked. */
export interface Access {
  /** Undefined for a service that needs no key. @throws DraftingError when it cannot be read */
  keyOf(service: ServiceRow): Promise<string | undefined>;
  fileOf(sha256: string): Promise<Buffer>;
  /** Hosts on this machine or a private network that may be reached. */
  allowed(): readonly Allowed[];
}

const OWN: Access = {
  keyOf: async ({ key, name }) => {
    if (key === null) return undefined;
    return unseal(key).catch(() => {
      throw new DraftingError('key', { id: 'drafting.key-unreadable', values: { service: name } });
    });
  },
  fileOf: readFile,
  allowed: () => config().allowedHosts,
};

// Its warnings are about models that we do not choose.
(globalThis as { AI_SDK_LOG_WARNINGS?: boolean }).AI_SDK_LOG_WARNINGS = false;

const CHARACTERS_PER_TOKEN = 4;
const OUT_TOKENS = 2_000;
/** Bytes of an answer; one without end is cut off. */
const MOST_ANSWER = 1024 * 1024;

/** Asks a vision model by HTTP, in the chat-completions form. */
export class ModelDrafter implements Drafter {
  constructor(private readonly options: ModelDrafterOptions) {}

  async draft(request: DraftRequest, wish: DraftWish, signal: AbortSignal): Promise<DraftResult> {
    const { service, prompt } = this.options;
    const image = await this.view(request);
    let cost = 0;
    const ask = async (faults: readonly string[], more: ModelMessage[], attempt: number) => {
      const { system, user } = composePrompt({ ...request.about, known: request.known, ...wish, faults });
      const answer = await this.send(wish, system, user, image, more, attempt, signal);
      cost += answer.cost;
      return answer.text;
    };
    const origin = () => ({ service: service.name, model: service.model, prompt, cost, currency: service.currency });
    const toDraft = (a: DraftAnswer) => draftOf(a, wish.wanted);

    const first = await ask([], [], 1);
    const read = readAnswer(first);
    if ('fault' in read) {
      const repaired = readAnswer(
        await ask(
          [],
          [
            { role: 'assistant', content: first.slice(0, 4_000) || ' ' },
            { role: 'user', content: repairRequest(read.fault) },
          ],
          2,
        ),
      );
      if ('fault' in repaired)
        throw new DraftingError('unreadable', { id: 'drafting.unreadable', values: { fault: repaired.fault } });
      return { ...toDraft(repaired.answer), origin: origin(), alternatives: [] };
    }
    const draft = toDraft(read.answer);
    const faults = await this.options.faultsOf(request, draft);
    if (faults.length === 0) return { ...draft, origin: origin(), alternatives: [] };
    // A second answer is an attempt to better the first, which stands where none comes.
    const second = await ask(faults, [], 2).then(readAnswer, (error: unknown) => {
      if (error instanceof DraftingError) return { fault: error.message };
      throw error;
    });
    if ('fault' in second) return { ...draft, origin: origin(), alternatives: [] };
    const other = toDraft(second.answer);
    const isBetter = (await this.options.faultsOf(request, other)).length < faults.length;
    const [kept, left] = isBetter ? [other, draft] : [draft, other];
    return { ...kept, origin: origin(), alternatives: left.text && left.text !== kept.text ? [left.text] : [] };
  }

  /** The picture as it is sent. */
  private async view({ sha256 }: DraftRequest): Promise<Buffer> {
    const { fileOf } = this.options.access ?? OWN;
    const bytes = sha256 === null ? null : await fileOf(sha256);
    if (!bytes) throw new DraftingError('picture', { id: 'drafting.no-file' });
    try {
      return await sharedReaders().viewToSend(bytes, this.options.service.maxSide);
    } catch {
      throw new DraftingError('picture', { id: 'drafting.undrawable' });
    }
  }

  /** One request of this drafter. */
  private send(
    wish: DraftWish,
    system: string,
    user: string,
    image: Buffer,
    messages: ModelMessage[],
    attempt: number,
    signal: AbortSignal,
  ) {
    const { prompt: _p, faultsOf: _f, ...options } = this.options;
    return askModel({
      ...options,
      ...{ image, system, user, messages, signal },
      ...{ key: `${wish.key}-${attempt}`, priority: wish.priority },
    });
  }
}

/** One request to a service. */
export interface ModelRequest extends Pick<ModelDrafterOptions, 'service' | 'roundId' | 'ledger' | 'access'> {
  collectionId: string | null;
  system: string;
  user: string;
  /** JPEG. */
  image: Buffer;
  /** What was said after that. */
  messages: ModelMessage[];
  /** The same for the same request; sent as `Idempotency-Key` (IETF draft of that name). */
  key: string;
  priority: number;
  signal: AbortSignal;
}

/**
 * Sends one request when it is its turn. The most that it can cost is set aside before it is sent, and its cost noted before
 * anything is made of the answer.
 *
 * @throws DraftingError when there is no answer; the signal's reason when that ends it
 */
export async function askModel(request: ModelRequest): Promise<{ text: string; cost: number }> {
  const { service, collectionId, roundId, ledger, system, user, image, key, priority, signal, access = OWN } = request;
  const gate = gateOf(service);
  const secret = await access.keyOf(service);
  const model = clientOf(service, secret, access).chatModel(service.model);
  const written = system.length + user.length + JSON.stringify(request.messages).length;
  const expectedIn = Math.ceil(written / CHARACTERS_PER_TOKEN) + (await tokensOf(image));
  const messages: ModelMessage[] = [
    {
      role: 'user',
      content: [
        { type: 'text', text: user },
        { type: 'image', image, mediaType: 'image/jpeg' },
      ],
    },
    ...request.messages,
  ];
  return gate.run(
    async () => {
      const most = costOf(service, expectedIn * SPARE, OUT_TOKENS);
      const reserved = await ledger.reserve({ serviceId: service.id, collectionId, roundId, most });
      const limit = AbortSignal.timeout(service.timeoutSeconds * 1_000);
      try {
        const { text, usage } = await generateText({
          ...{ model, system, messages, maxRetries: 0, maxOutputTokens: OUT_TOKENS },
          abortSignal: AbortSignal.any([signal, limit]),
          headers: { 'idempotency-key': key },
        });
        const tokensIn = counted(usage.inputTokens, expectedIn * ABSURD) ?? expectedIn;
        const tokensOut =
          counted(usage.outputTokens, OUT_TOKENS * ABSURD) ?? Math.ceil(text.length / CHARACTERS_PER_TOKEN);
        const cost = costOf(service, tokensIn, tokensOut);
        await reserved.settle(tokensIn, tokensOut, cost);
        return { text: withoutKey(text, secret), cost };
      } catch (error) {
        // Of what was refused, nothing is paid; what was cut off or took too long may have been.
        if (APICallError.isInstance(error) && (error.statusCode ?? 0) >= 400) await reserved.release();
        signal.throwIfAborted();
        const known = limit.aborted ? timedOut(service) : errorOf(error, service);
        if (known.retryAfterMs !== null) gate.hold(known.retryAfterMs);
        throw known;
      }
    },
    priority,
    signal,
  );
}

async function tokensOf(image: Buffer): Promise<number> {
  const { width, height } = await sharp(image).metadata();
  return pictureTokens(width, height);
}

/** How many times the expected tokens a picture may take, since services count them differently. */
const SPARE = 3;
/** How many times what is expected a service may say it has counted; beyond that, it is not believed. */
const ABSURD = 50;

/** A count of tokens that a service gives; undefined where it gives none that can be. */
const counted = (tokens: number | undefined, most: number): number | undefined =>
  tokens !== undefined && Number.isInteger(tokens) && tokens >= 0 && tokens <= most ? tokens : undefined;

/** An answer in which the service repeats the key that it was sent is kept without it. */
const withoutKey = (text: string, key: string | undefined): string => (key ? text.replaceAll(key, '•••') : text);

function clientOf(service: ServiceRow, apiKey: string | undefined, access: Access) {
  return createOpenAICompatible({
    name: 'service',
    baseURL: service.address.replace(/\/+$/, ''),
    ...(apiKey ? { apiKey } : {}),
    fetch: guardedFetch(access.allowed(), MOST_ANSWER),
  });
}

function draftOf(answer: DraftAnswer, wanted: readonly WantedText[]): Draft {
  const { alt, decorative, uncertain } = answer;
  const other = Object.fromEntries(
    wanted.flatMap((w) => {
      const text = answer[w]?.trim();
      return text ? [[w, text]] : [];
    }),
  );
  return {
    text: decorative ? null : alt,
    decorative,
    evidence: answer.textInPicture ? [{ from: 'text', text: answer.textInPicture.slice(0, 200) }] : [],
    missing: null,
    confidence: decorative ? 0.6 : 0.75,
    uncertain,
    other,
  };
}

const timedOut = ({ timeoutSeconds, address }: ServiceRow) =>
  new DraftingError('timeout', {
    id: 'drafting.timeout',
    values: { host: hostOf(address), seconds: timeoutSeconds },
  });

/** Milliseconds that an answer asks for (`Retry-After`, RFC 9110, 10.2.3): seconds or a date. */
export function retryAfterMs(value: string | undefined): number | null {
  if (!value) return null;
  const seconds = /^\s*\d{1,6}\s*$/.test(value) ? Number(value) : (Date.parse(value) - Date.now()) / 1_000;
  return Number.isFinite(seconds) ? Math.min(Math.max(0, seconds), LONGEST_HOLD) * 1_000 : null;
}

const LONGEST_HOLD = 3_600;
/** Milliseconds after a 429 that says nothing of when to come back. */
const USUAL_HOLD = 5_000;

function errorOf(error: unknown, service: ServiceRow): DraftingError {
  const host = hostOf(service.address);
  const because = (
    code: DraftingError['code'],
    id: string,
    values: Message['values'] = {},
    hold: number | null = null,
  ) => new DraftingError(code, { id, values: { host, service: service.name, ...values } }, hold);
  if (APICallError.isInstance(error) && error.statusCode !== undefined && error.statusCode >= 300) {
    const status = error.statusCode;
    const asked = retryAfterMs(error.responseHeaders?.['retry-after']);
    if (status === 401 || status === 403) return because('key', 'drafting.key-refused', { status });
    if (status === 402) return because('balance', 'drafting.balance');
    if (status === 429) return because('busy', 'drafting.busy', {}, asked ?? USUAL_HOLD);
    if (status >= 500) return because('service', 'drafting.failed', { status }, asked);
    if (status === 404) return because('refused', 'drafting.not-there', { model: service.model });
    return because('request', 'drafting.refused-request', { status });
  }
  for (let e: unknown = error; e instanceof Error; e = e.cause) {
    if (e instanceof RefusedAddress) return because('refused', 'drafting.refused-address', { why: e.reason });
    const { code } = e as NodeJS.ErrnoException;
    if (code === 'ECONNREFUSED' || code === 'ENOTFOUND' || code === 'EAI_AGAIN' || code === 'ETIMEDOUT')
      return because('service', 'drafting.unreachable');
  }
  // The answer began and was no whole one: cut off, or in another form.
  return because('service', 'drafting.broken-answer');
}

/** Waits before another attempt, longer each time; ends early with the signal. */
export const backOff = (attempt: number, signal: AbortSignal): Promise<void> =>
  wait(Math.min(30_000, 500 * 2 ** attempt), undefined, { signal }).catch(() => undefined);
