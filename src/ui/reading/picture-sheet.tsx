import Link from 'next/link';
import type { DraftPage } from '@/contract/drafting';
import { KeyButton } from '../keys/key-cap';
import { strings } from '../strings';

interface Props {
  draft: DraftPage;
  collection: string;
  isPageShown: boolean;
  togglePage(): void;
}

/** UTF-16 code units of the passage before and after that are shown. */
const PASSAGE = 320;

/** The picture large, and its place on the page. */
export function PictureSheet({ draft, collection, isPageShown, togglePage }: Props) {
  const s = strings.reading;
  const { picture, page, lang, before, after, caption } = draft;
  const name = strings.pictureName(picture.name);
  const kind =
    draft.kind === null ? null : strings.sentence(strings.message({ id: `kind.${draft.kind}` }).replace(/^an? /, ''));
  return (
    <div className="border-hair px-4 py-5 sm:px-6 lg:border-r">
      <img
        key={picture.id}
        src={picture.src}
        alt={name}
        width={picture.width ?? undefined}
        height={picture.height ?? undefined}
        className="plate h-auto max-h-[44vh] w-full"
      />
      <p className="mt-2.5 text-[14px] break-words text-ink-2">
        <b className="text-ink">{name}</b> · {s.facts(kind, picture.reach)}
      </p>
      <section aria-label={strings.desk.passage} className="mt-3">
        <p className="mb-1 flex flex-wrap items-baseline gap-x-3 text-[13.5px] text-ink-2">
          <span className="break-words">{page.title}</span>
          <KeyButton command="reading.page" className="link" aria-expanded={isPageShown} onClick={togglePage}>
            {isPageShown ? s.hidePage : s.page}
          </KeyButton>
          <Link href={`/c/${collection}/desk/${picture.id}?place=${draft.appearanceId}`} prefetch={false}>
            {s.desk}
          </Link>
        </p>
        {isPageShown ? (
          <iframe
            title={s.pageFrame(page.title)}
            src={`/found/${collection}/page/${draft.appearanceId}#detto-here`}
            sandbox="allow-same-origin"
            className="h-[300px] w-full border border-hair-2 bg-white"
          />
        ) : (
          <p lang={lang ?? undefined} dir="auto" className="font-heard text-[16.5px] leading-[1.55] text-ink-2">
            {before.slice(-PASSAGE)}{' '}
            <mark className="passage-here px-1.5 py-px text-ink">{strings.desk.imageHere}</mark>{' '}
            {after.slice(0, PASSAGE)}
          </p>
        )}
        {caption && !isPageShown && (
          <p className="mt-1 font-heard text-[15px] text-ink-2 italic" lang={lang ?? undefined}>
            {caption}
          </p>
        )}
      </section>
    </div>
  );
}
