import type { PagePictureLine } from '@/contract/survey';
import { Heard } from '../primitives/heard';
import { strings } from '../strings';

/** Icons and previews: pictures that stand for pages elsewhere, and are no part of what is heard on them. */
export function PagePictureList({ pictures }: { pictures: readonly PagePictureLine[] }) {
  const s = strings.pagePictures;
  if (pictures.length === 0) return null;
  return (
    <section className="mt-7" aria-labelledby="pictures">
      <h2 id="pictures" className="rule-below text-[16px] font-bold">
        {s.title}
      </h2>
      <p className="py-2 text-[14px] text-ink-2">{s.about}</p>
      <ul className="border-t border-hair">
        {pictures.map((a) => (
          <li
            key={`${a.kind} ${a.src}`}
            className="grid gap-x-6 border-b border-hair py-2 text-[14px] md:grid-cols-[64px_minmax(0,2fr)_minmax(0,1fr)]"
          >
            <span className="text-ink-2">{s.kinds[a.kind]}</span>
            <span className="min-w-0">
              <span className="font-code break-all">{a.src}</span>
              {a.kind === 'preview' && (
                <span className="block text-[13px] text-ink-2">
                  {a.alt ? (
                    <>
                      {s.words} <Heard text={a.alt} lang={null} />
                    </>
                  ) : (
                    s.noWords
                  )}
                </span>
              )}
            </span>
            <span>
              {strings.pages(a.pages)}
              {a.problem
                ? `, ${strings.message(a.problem)}`
                : a.width
                  ? `, ${a.width} × ${a.height}`
                  : `, ${s.notRead}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
