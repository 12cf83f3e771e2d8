import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { fares } from './fares';
import { fieldGuide } from './field-guide';
import { harbourNotice } from './harbour-notice';
import { leaflet } from './leaflet';
import { newsletter } from './newsletter';
import { readme } from './readme';
import { talk } from './talk';

const DOCUMENTS: Record<string, (picturesAt: (file: string) => Buffer) => Promise<Buffer>> = {
  'leaflet.docx': leaflet,
  'talk.pptx': talk,
  'fares.xlsx': fares,
  'field-guide.epub': fieldGuide,
  'harbour-notice.pdf': harbourNotice,
  'newsletter.eml': newsletter,
  'README.md': readme,
};
/** Pictures that the README shows. */
const BESIDE = ['harbour-map.png', 'tide-curve.png', 'staff-02.jpg', 'staff-03.jpg'];
/** Pictures that documents hold in another format. */
const DRAWN: Record<string, [from: string, width: number]> = {
  'wave.png': ['wave-3.svg', 640],
  'wave.jpg': ['wave-3.svg', 640],
  'logo.png': ['logo.svg', 288],
  'kittiwakes.jpg': ['kittiwakes.webp', 800],
};

/**
 * Makes the documents of Skerry Sound.
 *
 * @param pictures the folder with the pictures of the demo
 * @param folder where the documents go
 */
export async function documentsFolder(pictures: string, folder: string): Promise<string> {
  const drawn = new Map<string, Buffer>();
  for (const [file, [from, width]] of Object.entries(DRAWN)) {
    const image = sharp(readFileSync(path.join(pictures, from)), { density: 144 })
      .resize(width)
      .flatten({ background: '#ffffff' });
    drawn.set(file, await (file.endsWith('.jpg') ? image.jpeg({ quality: 85 }) : image.png()).toBuffer());
  }
  const picturesAt = (file: string) => drawn.get(file) ?? readFileSync(path.join(pictures, file));
  mkdirSync(path.join(folder, 'pictures'), { recursive: true });
  for (const file of BESIDE) writeFileSync(path.join(folder, 'pictures', file), picturesAt(file));
  for (const [file, made] of Object.entries(DOCUMENTS)) writeFileSync(path.join(folder, file), await made(picturesAt));
  return folder;
}
