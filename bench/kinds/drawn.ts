/**
 * Posters and separators, drawn: no package has enough of them. Those to report with have other layouts, words and faces
 * than those to tune with; docs/pictures.md tells which figures rest on drawn ones.
 */
import sharp from 'sharp';

/** A small generator of repeatable numbers (mulberry32). */
export function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Part = 'tune' | 'report';
const WORDS: Record<Part, string[]> = {
  tune: 'summer market opening hours free entry winter timetable ferry daily concert harbour festival morning closed today special offer tickets from adults children season programme visit museum night lecture parking station please keep gate shut departures arrivals platform'.split(
    ' ',
  ),
  report:
    'spring sale everything half price join our choir rehearsal thursday evening village hall welcome bring friends safety notice hard hats must worn beyond this point office reopens monday register before quarterly newsletter issue twelve'.split(
      ' ',
    ),
};
const FACES: Record<Part, string[]> = {
  tune: ['sans-serif', 'DejaVu Sans', 'Liberation Sans'],
  report: ['serif', 'DejaVu Serif', 'monospace'],
};

export async function posters(part: Part, count: number): Promise<Buffer[]> {
  const random = numbers(part === 'tune' ? 11 : 97);
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!;
  const colour = (light: number) => `hsl(${Math.floor(random() * 360)} ${Math.floor(random() * 80)}% ${light}%)`;
  const out: Buffer[] = [];
  for (let i = 0; i < count; i++) {
    const banner = random() < 0.5;
    const [w, h] = banner
      ? [300 + Math.floor(random() * 700), 60 + Math.floor(random() * 160)]
      : [240 + Math.floor(random() * 500), 300 + Math.floor(random() * 600)];
    const darkGround = random() < 0.4;
    const ground = random() < 0.3 ? '#ffffff' : colour(darkGround ? 20 : 88);
    const ink = darkGround && ground !== '#ffffff' ? colour(92) : colour(18);
    const lines = banner ? 1 + Math.floor(random() * 3) : 5 + Math.floor(random() * 12);
    const size = (h * 0.8) / (lines * 1.3);
    const most = Math.max(1, Math.floor((w * 0.9) / (size * 0.6) / 6));
    const text = Array.from({ length: lines }, (_, line) => {
      const big = line === 0 && !banner ? 1.3 : 0.7 + random() * 0.3;
      const words = Array.from({ length: Math.max(1, Math.ceil(most * random())) }, () => pick(WORDS[part])).join(' ');
      const said = random() < 0.25 ? words.toUpperCase() : words[0]!.toUpperCase() + words.slice(1);
      const at = part === 'tune' ? 'start' : 'middle';
      return `<text x="${at === 'start' ? w * 0.06 : w / 2}" y="${h * 0.1 + (line + 0.8) * size * 1.3}" font-size="${size * big}" text-anchor="${at}" font-weight="${random() < 0.4 ? 700 : 400}">${said}</text>`;
    }).join('');
    const frame =
      random() < 0.4
        ? `<rect x="6" y="6" width="${w - 12}" height="${h - 12}" fill="none" stroke="${ink}" stroke-width="3"/>`
        : '';
    const blob =
      random() < 0.4 ? `<circle cx="${w * random()}" cy="${h * random()}" r="${h * 0.15}" fill="${colour(55)}"/>` : '';
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}"><rect width="100%" height="100%" fill="${ground}"/>${blob}${frame}<g fill="${ink}" font-family="${pick(FACES[part])}">${text}</g></svg>`;
    const drawn = sharp(Buffer.from(svg));
    out.push(await (random() < 0.4 ? drawn.jpeg({ quality: 80 }) : drawn.png()).toBuffer());
  }
  return out;
}

export async function separators(part: Part, count: number): Promise<Buffer[]> {
  const random = numbers(part === 'tune' ? 23 : 131);
  const out: Buffer[] = [];
  for (let i = 0; i < count; i++) {
    const ink = `hsl(${Math.floor(random() * 360)} ${Math.floor(random() * 90)}% ${Math.floor(20 + random() * 60)}%)`;
    const shape = Math.floor(random() * (part === 'tune' ? 4 : 5));
    const [w, h] =
      shape === 0
        ? [1 + Math.floor(random() * 40), 1 + Math.floor(random() * 40)]
        : [200 + Math.floor(random() * 900), 1 + Math.floor(random() * 30)];
    const step = 10 + random() * 40;
    const marks = Array.from({ length: Math.ceil(w / step) }, (_, k) => k * step);
    const body = [
      '',
      `<rect y="${h * 0.3}" width="100%" height="${Math.max(1, h * 0.4)}" fill="${ink}"/>`,
      `<path d="M0 ${h / 2} ${marks.map(() => `q${step / 2} ${-h} ${step} 0`).join(' ')}" fill="none" stroke="${ink}" stroke-width="2"/>`,
      marks.map((x) => `<circle cx="${x}" cy="${h / 2}" r="${h / 4}" fill="${ink}"/>`).join(''),
      `<rect width="100%" height="100%" fill="url(#g)"/><defs><linearGradient id="g"><stop stop-color="${ink}" stop-opacity="0"/><stop offset=".5" stop-color="${ink}"/><stop offset="1" stop-color="${ink}" stop-opacity="0"/></linearGradient></defs>`,
    ][shape]!;
    const plain = shape === 0 && random() < 0.5 ? `<rect width="100%" height="100%" fill="${ink}"/>` : '';
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w}" height="${h}">${plain}${body}</svg>`;
    out.push(await sharp(Buffer.from(svg)).png().toBuffer());
  }
  return out;
}
