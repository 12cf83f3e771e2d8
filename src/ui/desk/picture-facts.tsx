'use client';

import { thingMessage } from '@/core/picture/names';
import type { DeskPicture, DeskDetails } from '@/contract/desk';
import { countedThings } from '@/core/picture/things';
import { Copy } from '../primitives/copy';
import { strings } from '../strings';

const s = strings.desk.details;

/** Fields of a file's metadata that may be the words for its picture. */
const SAYABLE = new Set<string>(['title', 'description', 'alt', 'extended']);

interface DetailsProps {
  details: DeskDetails;
  lang: string | null;
  say(text: string): void;
  /** Puts lines into the long description. */
  describe(lines: readonly string[]): void;
}

/** What Detto saw in the picture, and what its file says; each thing can be taken from here. */
export function PictureDetailsView({ details, lang, say, describe }: DetailsProps) {
  const { kind, frames, clear, orientation, faces, lines, things, metadata, waits } = details;
  const counted = countedThings(things);
  const shape = [s.orientations[orientation], ...(frames > 1 ? [s.moving(frames)] : []), ...(clear ? [s.clear] : [])];
  return (
    <div className="mt-4 text-[13.5px]">
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1">
        {kind && (
          <>
            <dt className="text-ink-2">{s.kind}</dt>
            <dd>
              {kind.sure ? s.looksLike[kind.kind] : s.maybe(s.looksLike[kind.kind])}
              {kind.reasons.length > 0 && (
                <span className="text-ink-2">: {kind.reasons.map(strings.message).join(', ')}</span>
              )}
            </dd>
          </>
        )}
        <dt className="text-ink-2">{s.shape}</dt>
        <dd>{shape.join(', ')}</dd>
        {counted.length > 0 && (
          <>
            <dt className="text-ink-2">{s.things}</dt>
            <dd>
              {counted
                .map(({ name, count, sure }) => s.thing(strings.message(thingMessage(name)), count, sure))
                .join(', ')}
            </dd>
          </>
        )}
        {faces !== null && faces > 0 && (
          <>
            <dt className="text-ink-2">{s.faces}</dt>
            <dd>{s.counted(faces)}</dd>
          </>
        )}
      </dl>
      {waits && <p className="mt-1 text-ink-2">{s.waits}</p>}
      {lines.length > 0 && <Written lines={lines.map((l) => l.text)} lang={lang} say={say} describe={describe} />}
      {metadata.length > 0 && (
        <details className="mt-3">
          <summary className="min-h-6 cursor-pointer font-bold">{s.inFile(metadata.length)}</summary>
          <dl className="mt-1 grid gap-y-1.5">
            {metadata.map(({ field, text, by }) => (
              <div key={field}>
                <dt className="text-ink-2">
                  {s.fields[field]} <span className="text-[12.5px]">({by})</span>
                </dt>
                <dd className="break-words">
                  <span className="whitespace-pre-line">{text}</span>{' '}
                  {SAYABLE.has(field) && (
                    <button
                      type="button"
                      className="link"
                      onClick={() => (field === 'extended' ? describe(text.split(/\r?\n/)) : say(text))}
                    >
                      {field === 'extended' ? s.describe : s.say}
                      <span className="sr-only">: {s.fields[field]}</span>
                    </button>
                  )}
                </dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </div>
  );
}

/** Recognised text, its lines in order. */
function Written({ lines, lang, say, describe }: Omit<DetailsProps, 'details'> & { lines: string[] }) {
  const text = lines.join('\n');
  return (
    <section aria-labelledby="written" className="mt-3">
      <h2 id="written" className="font-bold">
        {s.written}
      </h2>
      <p
        lang={lang ?? undefined}
        dir="auto"
        tabIndex={lines.length > 6 ? 0 : undefined}
        role={lines.length > 6 ? 'group' : undefined}
        aria-labelledby={lines.length > 6 ? 'written' : undefined}
        className="mt-1 max-h-[150px] overflow-y-auto border-l border-hair-2 pl-2.5 whitespace-pre-line"
      >
        {text}
      </p>
      <p className="fixes mt-1">
        <button type="button" className="link" onClick={() => say(lines.join(' '))}>
          {s.sayText}
        </button>
        <button type="button" className="link" onClick={() => describe(lines)}>
          {s.describe}
        </button>
        <Copy text={text} label={s.copy} />
      </p>
    </section>
  );
}

/** Boxes of what was recognised, over the picture. */
export function Outlines({
  details,
  show,
}: {
  details: DeskPicture['details'];
  show: { text: boolean; things: boolean };
}) {
  if (!details) return null;
  const box = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }) => ({
    left: `${x * 100}%`,
    top: `${y * 100}%`,
    width: `${width * 100}%`,
    height: `${height * 100}%`,
  });
  return (
    <span className="pointer-events-none absolute inset-0" aria-hidden="true">
      {show.text && details.lines.map((l, i) => <span key={i} className="outline-text" style={box(l.box)} />)}
      {show.things &&
        details.things.map((t, i) => (
          <span key={i} className="outline-thing" style={box(t.box)}>
            <span>{strings.message(thingMessage(t.name))}</span>
          </span>
        ))}
    </span>
  );
}
