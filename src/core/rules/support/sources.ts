import type { Source } from './rule';

const wcag = (id: string, name: string): Source => ({ name, url: `https://www.w3.org/WAI/WCAG22/Understanding/${id}` });
const technique = (path: string, name: string): Source => ({
  name,
  url: `https://www.w3.org/WAI/WCAG22/Techniques/${path}`,
});

/** The published sources that rules name, each by section. */
export const SC_1_1_1 = wcag('non-text-content', 'WCAG 2.2, 1.1.1 Non-text Content');
export const SC_3_1_2 = wcag('language-of-parts', 'WCAG 2.2, 3.1.2 Language of Parts');
export const SC_1_4_5 = wcag('images-of-text', 'WCAG 2.2, 1.4.5 Images of Text');
export const SC_2_4_4 = wcag('link-purpose-in-context', 'WCAG 2.2, 2.4.4 Link Purpose');
export const SC_4_1_2 = wcag('name-role-value', 'WCAG 2.2, 4.1.2 Name, Role, Value');
export const F3 = technique('failures/F3', 'F3, CSS images that convey information');
export const F38 = technique('failures/F38', 'F38, content that is not marked as decoration');
export const F67 = technique('failures/F67', 'F67, long descriptions that do not serve');
export const F72 = technique('failures/F72', 'F72, ASCII art without a text alternative');
export const C9 = technique('css/C9', 'C9, CSS for decorative images');
export const G82 = technique('general/G82', 'G82, a text alternative that says the purpose');
export const G92 = technique('general/G92', 'G92, a long description that serves the same purpose');
export const G94 = technique('general/G94', 'G94, a short text alternative that serves the same purpose');
export const G95 = technique('general/G95', 'G95, short text alternatives that briefly describe');
export const G196 = technique('general/G196', 'G196, one text alternative for a group of images');
export const H53 = technique('html/H53', 'H53, the body of the object element');
export const H86 = technique('html/H86', 'H86, text alternatives for emoticons and ASCII art');
export const ARIA15 = technique('aria/ARIA15', 'ARIA15, aria-describedby for images');
export const F30 = technique('failures/F30', 'F30, text alternatives that are not alternatives');
export const F39 = technique('failures/F39', 'F39, words on decorative images');
export const F65 = technique('failures/F65', 'F65, omitting the alt attribute');
export const F89 = technique('failures/F89', 'F89, a link with no accessible name');
export const H2 = technique('html/H2', 'H2, adjacent image and text links');
export const H24 = technique('html/H24', 'H24, text alternatives for area elements');
export const H30 = technique('html/H30', 'H30, link text with images');
export const H36 = technique('html/H36', 'H36, alt on image submit buttons');
export const H67 = technique('html/H67', 'H67, null alt for images to be ignored');
export const MATHML_CORE: Source = { name: 'MathML Core', url: 'https://www.w3.org/TR/mathml-core/' };
export const WCAG2ICT: Source = {
  name: 'WCAG2ICT, 1.1.1 applied to documents and software',
  url: 'https://www.w3.org/TR/wcag2ict-22/#non-text-content',
};
export const PDF_UA: Source = {
  name: 'PDF/UA-1 (ISO 14289-1), 7.3 Graphics',
  url: 'https://www.iso.org/standard/64599.html',
};
export const PDF1 = technique('pdf/PDF1', 'PDF1, text alternatives in PDF');
export const PDF4 = technique('pdf/PDF4', 'PDF4, decorative images as artifacts in PDF');
export const EPUB_A11Y: Source = {
  name: 'EPUB Accessibility 1.1, 4 EPUB publications',
  url: 'https://www.w3.org/TR/epub-a11y-11/',
};
export const HTML_ALT: Source = {
  name: 'HTML Living Standard, 4.8.4.4 Requirements for providing text',
  url: 'https://html.spec.whatwg.org/multipage/images.html#alt',
};
export const HTML_IMG: Source = {
  name: 'HTML Living Standard, 4.8.3 The img element',
  url: 'https://html.spec.whatwg.org/multipage/embedded-content.html#the-img-element',
};
export const HTML_AAM: Source = {
  name: 'HTML Accessibility API Mappings 1.0, 4.1 Name computation',
  url: 'https://www.w3.org/TR/html-aam-1.0/#accessible-name-and-description-computation',
};
export const ACT_LINK: Source = {
  name: 'ACT rule c487ae, link has a non-empty accessible name',
  url: 'https://www.w3.org/WAI/standards-guidelines/act/rules/c487ae/',
};
export const ACT_IMAGE_BUTTON: Source = {
  name: 'ACT rule 59796f, image button has a non-empty accessible name',
  url: 'https://www.w3.org/WAI/standards-guidelines/act/rules/59796f/',
};
export const TUTORIAL_TIPS: Source = {
  name: 'W3C Images Tutorial, tips and tricks',
  url: 'https://www.w3.org/WAI/tutorials/images/tips/',
};
export const TUTORIAL_DECORATIVE: Source = {
  name: 'W3C Images Tutorial, decorative images',
  url: 'https://www.w3.org/WAI/tutorials/images/decorative/',
};
export const TUTORIAL_FUNCTIONAL: Source = {
  name: 'W3C Images Tutorial, functional images',
  url: 'https://www.w3.org/WAI/tutorials/images/functional/',
};
export const TUTORIAL_GROUPS: Source = {
  name: 'W3C Images Tutorial, groups of images',
  url: 'https://www.w3.org/WAI/tutorials/images/groups/',
};
export const TUTORIAL_TEXT: Source = {
  name: 'W3C Images Tutorial, images of text',
  url: 'https://www.w3.org/WAI/tutorials/images/textual/',
};
export const TUTORIAL_COMPLEX: Source = {
  name: 'W3C Images Tutorial, complex images',
  url: 'https://www.w3.org/WAI/tutorials/images/complex/',
};
export const IPTC: Source = {
  name: 'IPTC Photo Metadata Standard 2021.1',
  url: 'https://www.iptc.org/std/photometadata/specification/IPTC-PhotoMetadata',
};
const act = (id: string, name: string): Source => ({
  name: `ACT rule ${id}, ${name}`,
  url: `https://www.w3.org/WAI/standards-guidelines/act/rules/${id}/`,
});
export const ACT_SVG = act('7d6734', 'svg element with explicit role has a name');
export const ACT_OBJECT = act('8fc3b6', 'object element has a name');
export const ACT_IMG_ROLE = act('23a2a8', 'image has a name');
export const ACT_PRESENTATIONAL = act('46ca7f', 'element marked as decorative is not exposed');
export const ACT_DECORATIVE = act('e88epe', 'image not in the accessibility tree is decorative');
export const ARIA_CONFLICT: Source = {
  name: 'WAI-ARIA 1.2, 9.3 Presentational roles conflict resolution',
  url: 'https://www.w3.org/TR/wai-aria-1.2/#conflict_resolution_presentation_none',
};
export const HTML_OBSOLETE: Source = {
  name: 'HTML Living Standard, 16.2 Non-conforming features',
  url: 'https://html.spec.whatwg.org/multipage/obsolete.html#non-conforming-features',
};
export const UTR36: Source = {
  name: 'Unicode Technical Report 36, Security Considerations',
  url: 'https://www.unicode.org/reports/tr36/',
};
export const RFC_9309: Source = {
  name: 'RFC 9309, Robots Exclusion Protocol',
  url: 'https://www.rfc-editor.org/rfc/rfc9309',
};
export const SEARCH_GUIDANCE: Source = { name: 'Search guidance against keyword stuffing (common practice)', url: '' };
export const HOUSE_STYLE: Source = { name: 'This collection’s house style', url: '' };
export const COMMON_PRACTICE: Source = { name: 'Common practice', url: '' };
