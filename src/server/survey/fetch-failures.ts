import type { Message } from '@/core/model/message';
import { RefusedAddress } from '../net/guard';
import { Skipped } from './source';

const seconds = (ms: number) => Math.round(ms / 100) / 10;

/** Network errors as what happened. */
export function asReason(error: unknown, timedOut: number | null, silence: number): Skipped {
  if (error instanceof Skipped) return error;
  if (timedOut !== null) return new Skipped({ id: 'skip.no-end', values: { seconds: seconds(timedOut) } }, 'no-answer');
  const e = error as Error & { code?: string; cause?: { code?: string } };
  if (error instanceof RefusedAddress)
    return new Skipped({ id: 'skip.refused', values: { reason: error.reason } }, 'refused');
  switch (e.code ?? e.cause?.code) {
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return new Skipped({ id: 'skip.no-host' }, 'no-answer');
    case 'ECONNREFUSED':
      return new Skipped({ id: 'skip.nothing-answers' }, 'no-answer');
    case 'UND_ERR_CONNECT_TIMEOUT':
    case 'ETIMEDOUT':
      return new Skipped({ id: 'skip.no-answer' }, 'no-answer');
    case 'UND_ERR_HEADERS_TIMEOUT':
    case 'UND_ERR_BODY_TIMEOUT':
      return new Skipped({ id: 'skip.silent', values: { seconds: seconds(silence) } }, 'no-answer');
    case 'ECONNRESET':
    case 'UND_ERR_SOCKET':
      return new Skipped({ id: 'skip.broken-off' }, 'no-answer');
  }
  return new Skipped(unfetched(e.code ?? e.cause?.code ?? '', e.name));
}

/** Errors of libraries as what they mean: their own messages ("incorrect header check") say nothing to an editor. */
function unfetched(code: string, name: string): Message {
  if (/^Z_|^ERR__ERROR_|^ERR_BROTLI|^ZSTD/.test(code)) return { id: 'skip.bad-compression' };
  if (/^HPE_|^UND_ERR_(?:RES|REQ)_CONTENT_LENGTH|^ERR_ASSERTION/.test(code) || name === 'HTTPParserError')
    return { id: 'skip.bad-http' };
  if (code === 'UND_ERR_HEADERS_OVERFLOW') return { id: 'skip.long-headers' };
  if (/^CERT_|_CERT|^ERR_TLS_CERT|^DEPTH_ZERO|^UNABLE_TO/.test(code))
    return { id: 'skip.bad-certificate', values: { code: code.toLowerCase().replaceAll('_', ' ') } };
  if (/^ERR_SSL|^EPROTO/.test(code)) return { id: 'skip.bad-https' };
  if (/^E(?:HOST|NET)UNREACH$/.test(code)) return { id: 'skip.unreachable' };
  return code ? { id: 'skip.not-fetched-code', values: { code } } : { id: 'skip.not-fetched' };
}
