import { languagesFor } from '../rules/language/words';
import { wordsOf } from '../words/graphemes';
import type { Appearance, AppearanceElement, Picture, Purpose } from '../appearance';

export interface PurposeProposal {
  purpose: Purpose;
  /** What speaks for it, as short phrases that follow "Proposed:". */
  evidence: string[];
}

const NO_WORDS: Partial<Record<AppearanceElement, string>> = {
  poster: 'it is the still of a video',
  'css-background': 'it is a background of the style sheet',
  source: 'it is another version of the image beside it, and is heard as that',
};

/** What it is called that needs more than a short text ("tide chart"), in what is said of it. */
function complexWord(a: Appearance): string | null {
  const said = [a.alt, a.ariaLabel, a.caption, a.title].filter((t) => t !== null).join(' ');
  for (const { complex, screens } of said === '' ? [] : languagesFor(a.lang)) {
    if (wordsOf(said).some((w) => screens.has(w))) return null;
    const word = complex.exec(said)?.[0];
    if (word) return word.toLowerCase();
  }
  return null;
}

/**
 * Proposes what a picture does where it stands, from the markup alone (W3C WAI Images Tutorial, its
 * decision tree). A person settles it.
 */
export function proposePurpose(a: Appearance, picture: Pick<Picture, 'width' | 'height'> | null): PurposeProposal {
  if (a.element === 'area') return { purpose: 'functional', evidence: ['an area of an image map'] };
  if (a.element === 'input') return { purpose: 'functional', evidence: ['it is a button'] };
  const wordless = NO_WORDS[a.element];
  if (wordless) return { purpose: 'decorative', evidence: [wordless] };
  if (a.control && a.control.text === '')
    return {
      purpose: 'functional',
      evidence: [
        `it is all there is in a ${a.control.kind}`,
        ...(a.control.href ? [`which leads to ${a.control.href}`] : []),
      ],
    };
  const width = picture?.width ?? a.shownWidth;
  const height = picture?.height ?? a.shownHeight;
  const tiny = width !== null && height !== null && width <= 3 && height <= 3;
  if (tiny) return { purpose: 'decorative', evidence: [`${width} × ${height} pixels`] };
  if (a.state === 'silent')
    return {
      purpose: 'decorative',
      evidence: [a.alt === '' ? 'its alt text is empty' : 'it is hidden from assistive technology'],
    };
  if (a.map !== null && a.element === 'img')
    return { purpose: 'image map', evidence: ['it has areas that lead somewhere'] };
  const complex = complexWord(a);
  if (complex && !a.control) return { purpose: 'complex', evidence: [`its words speak of a ${complex}`] };
  if (a.control) return { purpose: 'informative', evidence: [`it stands beside the text of a ${a.control.kind}`] };
  const evidence = [
    ...(a.caption ? ['it has a caption'] : []),
    ...(a.region === 'main' || a.before || a.after ? ['it stands in running text'] : []),
    'no link around it',
  ];
  return { purpose: 'informative', evidence };
}
