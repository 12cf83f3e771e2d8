import { countedThings } from './things';
import type { Recognition } from './recognised';
import type { Fingerprint } from './fingerprint';
import type { Message } from '../model/message';
import { colourMessage, thingMessage } from './names';

/** What a picture is distinguished by. */
export interface Distinct {
  width: number | null;
  height: number | null;
  bytes: number | null;
  colours: readonly string[];
  fingerprint: Fingerprint | null;
  recognition: Recognition | null;
  text: string | null;
  sha256: string | null;
}

/** Steps of lightness (0 to 255) that are seen. */
const LIGHTER = 12;
/** Part of the picture's fields in which it differs. */
const FIELD = 7;
const PLACES = ['left_above', 'above', 'right_above', 'left', 'middle', 'right', 'left_below', 'below', 'right_below'];

/** What of `other` is not as in `own`, in a few words each: what to look at when words are adapted. */
export function differences(own: Distinct, other: Distinct): Message[] {
  if (own.sha256 !== null && own.sha256 === other.sha256) return [{ id: 'differs.same-file' }];
  const out: Message[] = [];
  if (own.width && other.width && own.height && other.height) {
    const times = Math.sqrt((other.width * other.height) / (own.width * own.height));
    if (times > 1.05) out.push({ id: 'differs.larger', values: more(times) });
    if (times < 0.95) out.push({ id: 'differs.smaller', values: more(1 / times) });
  }
  if (own.fingerprint && other.fingerprint)
    out.push(...fieldDifferences(own.fingerprint.fields, other.fingerprint.fields));
  const gained = other.colours.filter((c) => !own.colours.includes(c));
  const lost = own.colours.filter((c) => !other.colours.includes(c));
  if (gained.length > 0) out.push({ id: 'differs.more', values: { colours: gained.map(colourMessage) } });
  if (lost.length > 0) out.push({ id: 'differs.less', values: { colours: lost.map(colourMessage) } });
  out.push(...thingDifferences(own.recognition, other.recognition));
  if ((own.text ?? '') !== (other.text ?? '')) {
    const line = other.text?.split('\n').find((l) => !own.text?.includes(l));
    if (line) out.push({ id: 'differs.text', values: { text: line.slice(0, 40) } });
    else if (own.text) out.push({ id: 'differs.less-text' });
  }
  return out;
}

/** As people say it: from twice on in times, below in percent, with 0 for the other. */
const more = (times: number) =>
  times >= 1.95 ? { times: Math.round(times), percent: 0 } : { times: 0, percent: Math.round((times - 1) * 100) };

/** Lighter or darker as a whole, else where the greatest difference is. */
function fieldDifferences(own: string, other: string): Message[] {
  const [a, b] = [own, other].map((hex) => (hex.match(/../g) ?? []).map((byte) => parseInt(byte, 16)));
  const light = (of: number[]) => of.filter((_, i) => i % 3 === 0);
  const mean = (of: number[]) => of.reduce((s, v) => s + v, 0) / of.length;
  const step = mean(light(b!)) - mean(light(a!));
  if (Math.abs(step) >= LIGHTER) return [{ id: step > 0 ? 'differs.lighter' : 'differs.darker' }];
  let [most, at] = [0, -1];
  for (let i = 0; i < a!.length; i += 3) {
    const apart = Math.max(...[0, 1, 2].map((k) => Math.abs(a![i + k]! - b![i + k]!)));
    if (apart > most) [most, at] = [apart, i / 3];
  }
  if (most < FIELD) return [];
  // Four by four fields, named by thirds.
  const third = (n: number) => (n === 0 ? 0 : n === 3 ? 2 : 1);
  return [{ id: 'differs.field', values: { place: PLACES[third(Math.floor(at / 4)) * 3 + third(at % 4)] } }];
}

function thingDifferences(own: Recognition | null, other: Recognition | null): Message[] {
  if (!own || !other) return [];
  const before = new Map(countedThings(own.things).map((t) => [t.name, t.count]));
  return countedThings(other.things).flatMap(({ name, count }) => {
    const had = before.get(name) ?? 0;
    return count === had ? [] : [{ id: 'differs.things', values: { count, thing: thingMessage(name), had } }];
  });
}
