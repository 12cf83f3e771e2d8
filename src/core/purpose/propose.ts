import { takesNoWords, type Appearance, type Picture, type Purpose } from '../appearance';

export interface PurposeProposal {
  purpose: Purpose;
  /** What speaks for it, as short phrases that follow "Proposed:". */
  evidence: string[];
}

/**
 * Proposes what a picture does where it stands, from the markup alone (W3C WAI Images Tutorial, its
 * decision tree). A person settles it.
 */
export function proposePurpose(a: Appearance, picture: Picture | null): PurposeProposal {
  if (a.element === 'area') return { purpose: 'functional', evidence: ['an area of an image map'] };
  if (a.element === 'input') return { purpose: 'functional', evidence: ['it is a button'] };
  if (takesNoWords(a))
    return {
      purpose: 'decorative',
      evidence: [a.element === 'poster' ? 'it is the still of a video' : 'it is a background of the style sheet'],
    };
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
  if (a.control) return { purpose: 'informative', evidence: [`it stands beside the text of a ${a.control.kind}`] };
  const evidence = [
    ...(a.caption ? ['it has a caption'] : []),
    ...(a.region === 'main' || a.before || a.after ? ['it stands in running text'] : []),
    'no link around it',
  ];
  return { purpose: 'informative', evidence };
}
