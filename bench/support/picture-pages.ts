import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { DOT } from '../../src/server/testing/site';

const PICTURES = 12;
/** Pages after which the same pictures are shown again. */
const PARTS = 20;
const SENTENCE = 'Choose the layer that is to be moved, and drag it to where the outline of the harbour is shown. ';

/** The picture with a number: a file of its own, because its last byte is another. */
const pictureOf = (n: number): Buffer => Buffer.concat([DOT, Buffer.from(String(n))]);

/** One step of a manual: a heading, what to do, and a picture with or without words, as manuals have them. */
const stepOf = (page: number, n: number): string => `
<div class="section"><div class="titlepage"><h3 class="title"><a id="step-${n}"></a>Step ${n} of page ${page}</h3></div>
<p>${SENTENCE.repeat(3)}<span class="guibutton">Apply</span> <img class="icon" src="img/icon-${n % 4}.gif" alt="">.</p>
<div class="figure"><p class="title"><b>Figure ${page}.${n}. The dialog at step ${n}</b></p>
<div class="mediaobject"><table><tr><td><img src="img/p${page % PARTS}-${n}.gif"${n % 3 === 0 ? '' : ` alt="The dialog at step ${n}"`}></td></tr>
<tr><td><div class="caption"><p>The dialog, with ${n} settings</p></div></td></tr></table></div></div></div>`;

/** Writes a site like a manual with many pictures: pages that lead to one another, each of twelve steps with two pictures. */
export function writePicturePages(folder: string, pages: number): void {
  mkdirSync(path.join(folder, 'img'), { recursive: true });
  for (let i = 0; i < 4; i++) writeFileSync(path.join(folder, 'img', `icon-${i}.gif`), pictureOf(i));
  for (let part = 0; part < PARTS; part++)
    for (let n = 0; n < PICTURES; n++)
      writeFileSync(path.join(folder, 'img', `p${part}-${n}.gif`), pictureOf(1000 + part * PICTURES + n));
  for (let page = 0; page < pages; page++) {
    const steps = Array.from({ length: PICTURES }, (_, n) => stepOf(page, n));
    const nav = [page - 1, page + 1, 2 * page + 1, 2 * page + 2]
      .filter((to) => to >= 0 && to < pages)
      .map((to) => `<a href="${to === 0 ? 'index' : `page-${to}`}.html">Page ${to}</a>`);
    writeFileSync(
      path.join(folder, page === 0 ? 'index.html' : `page-${page}.html`),
      `<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>Page ${page} – Manual</title></head>
<body><div class="navheader">${nav.join(' ')}</div><h1>Page ${page}</h1>${steps.join('')}</body></html>\n`,
    );
  }
}
