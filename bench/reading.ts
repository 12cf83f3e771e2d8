/**
 * `npm run bench -- reading [FOLDER]`: text recognition on rendered text of known content (character error rate, what is
 * made up), and things in the photos of FOLDER, where a file `labels.json` says what is in each.
 */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { textOf } from '../src/core/picture/recognised';
import { countedThings } from '../src/core/picture/things';
import { Recogniser } from '../src/server/workers/reader-pool';
import { numbers } from './kinds/drawn';

const SAID = {
  en: [
    'Winter sailings from the first of November',
    'Day ticket 12.50, children half price',
    'Please keep the gate shut',
    'Passengers in thousands by month',
  ],
  de: ['Fähre täglich außer Montag', 'Öffnungszeiten im Frühjahr', 'Bitte Türen schließen'],
  fr: ['Horaires d’été à partir du premier juin', 'Entrée gratuite pour les élèves'],
  es: ['Mañana abrimos a las nueve', 'Niños menores de doce años gratis'],
  nl: ['Dagelijks geopend vanaf elf uur'],
  it: ['Aperto tutti i giorni, città vecchia'],
  pt: ['Informações e horários de verão'],
} as const;
const SIZES = [14, 20, 32, 56];
const GROUNDS: [string, string][] = [
  ['#ffffff', '#111111'],
  ['#1f3f58', '#f5f1e6'],
  ['#e9dfc8', '#7a2f1d'],
];
const FACES = ['DejaVu Sans', 'DejaVu Serif'];

function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(next[j - 1]! + 1, row[j]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}

const random = numbers(19);
const recogniser = new Recogniser();
process.stdout.write('| language | pictures | characters | character error rate |\n| --- | --- | --- | --- |\n');
for (const [language, texts] of Object.entries(SAID)) {
  let [errors, characters, pictures] = [0, 0, 0];
  for (const said of texts)
    for (const size of SIZES) {
      const [ground, ink] = GROUNDS[Math.floor(random() * GROUNDS.length)]!;
      const face = FACES[Math.floor(random() * FACES.length)]!;
      const width = Math.round(said.length * size * 0.7 + 60);
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${size * 3}"><rect width="100%" height="100%" fill="${ground}"/><text x="30" y="${size * 1.9}" font-size="${size}" font-family="${face}" fill="${ink}">${said}</text></svg>`;
      const bytes = await sharp(Buffer.from(svg)).jpeg({ quality: 85 }).toBuffer();
      const { lines } = await recogniser.recognise({ bytes, languages: [language], photo: false, things: false });
      errors += Math.min(said.length, distance(textOf(lines, false).replace(/\n/g, ' '), said));
      characters += said.length;
      pictures++;
    }
  process.stdout.write(
    `| ${language} | ${pictures} | ${characters} | ${((100 * errors) / characters).toFixed(1)} % |\n`,
  );
}

const folder = process.argv[2];
if (folder && existsSync(path.join(folder, 'labels.json'))) {
  const labels = JSON.parse(readFileSync(path.join(folder, 'labels.json'), 'utf8')) as Record<string, string[]>;
  let [right, wrong, present, found] = [0, 0, 0, 0];
  for (const [file, things] of Object.entries(labels)) {
    const { things: seen, faces } = await recogniser.recognise({
      bytes: readFileSync(path.join(folder, file)),
      languages: ['en'],
      photo: true,
      things: true,
    });
    const said = countedThings(seen).map((t) => t.name);
    for (const name of said)
      if (things.includes(name)) right++;
      else wrong++;
    if (things.length > 0) present++;
    if (said.some((name) => things.includes(name))) found++;
    process.stdout.write(
      `${file}: ${said.join(', ') || 'nothing'}; faces ${faces}; in it: ${things.join(', ') || 'nothing of these'}\n`,
    );
  }
  process.stdout.write(
    `things named: ${right} right, ${wrong} wrong; of ${present} pictures with a known thing, ${found} had it named\n`,
  );
}
recogniser.close();
