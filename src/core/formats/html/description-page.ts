import { longDescriptionHtml } from '../../words/long-description';
import { longDescriptionLabel } from '../../words/long-description-label';
import { escapeText, escapeValue } from './attributes';

interface DescribedPicture {
  name: string;
  /** CommonMark with tables. */
  text: string;
  /** Language of the page that leads to it; null where that does not say. */
  lang: string | null;
  /** The pages that lead to it, as seen from it. */
  back: readonly { title: string; href: string }[];
}

/** A page of its own for a long description, in UTF-8, with links back to the pages that show the picture. */
export function descriptionPage({ name, text, lang, back }: DescribedPicture): string {
  const title = escapeText(longDescriptionLabel(name, lang));
  const links = back.map((b) => `<li><a href="${escapeValue(b.href, '"')}">${escapeText(b.title)}</a></li>`);
  return [
    '<!DOCTYPE html>',
    `<html${lang ? ` lang="${escapeValue(lang, '"')}"` : ''}>`,
    '<head>',
    '<meta charset="utf-8">',
    '<meta name="viewport" content="width=device-width">',
    `<title>${title}</title>`,
    '</head>',
    '<body>',
    '<main>',
    `<h1>${title}</h1>`,
    longDescriptionHtml(text, 2),
    '</main>',
    '<nav>',
    '<ul>',
    ...links,
    '</ul>',
    '</nav>',
    '</body>',
    '</html>',
    '',
  ].join('\n');
}
