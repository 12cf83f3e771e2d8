import type { Source } from './rule';

const wcag = (id: string, name: string): Source => ({ name, url: `https://www.w3.org/WAI/WCAG22/Understanding/${id}` });
const technique = (path: string, name: string): Source => ({
  name,
  url: `https://www.w3.org/WAI/WCAG22/Techniques/${path}`,
});

/** The published sources that rules name, each by section. */
export const SC_1_1_1 = wcag('non-text-content', 'WCAG 2.2, 1.1.1 Non-text Content');
export const SC_2_4_4 = wcag('link-purpose-in-context', 'WCAG 2.2, 2.4.4 Link Purpose');
export const SC_4_1_2 = wcag('name-role-value', 'WCAG 2.2, 4.1.2 Name, Role, Value');
export const F30 = technique('failures/F30', 'F30, text alternatives that are not alternatives');
export const F39 = technique('failures/F39', 'F39, words on decorative images');
export const F65 = technique('failures/F65', 'F65, omitting the alt attribute');
export const F89 = technique('failures/F89', 'F89, a link with no accessible name');
export const H2 = technique('html/H2', 'H2, adjacent image and text links');
export const H24 = technique('html/H24', 'H24, text alternatives for area elements');
export const H30 = technique('html/H30', 'H30, link text with images');
export const H36 = technique('html/H36', 'H36, alt on image submit buttons');
export const H67 = technique('html/H67', 'H67, null alt for images to be ignored');
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
export const COMMON_PRACTICE: Source = { name: 'Common practice', url: '' };
