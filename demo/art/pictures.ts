// Every picture of the demo in one list, however long: each entry is a drawing, and there is nothing to find between them.
import { text } from './text';
import {
  cloud,
  cottage,
  ferry,
  grass,
  gull,
  hills,
  lighthouse,
  perchedGull,
  portrait,
  puffin,
  quay,
  random,
  sea,
  seal,
  sky,
  sun,
  thrift,
} from './shapes';

/** A picture of Skerry Sound before it is rendered: its drawing, and as what it is written. */
export interface Drawn {
  /** Name of the file; its ending tells the format. */
  file: string;
  svg: string | string[];
  width: number;
  /** 1 to 100, for formats that lose something. */
  quality?: number;
  /** Strength of the film grain that makes a drawing weigh like a photograph; 0 is none. */
  grain?: number;
  /** What its file says about itself, as XMP properties by prefixed name. */
  says?: Record<string, string>;
}

const draw = (inner: string, width = 1200, height = 800) =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">${inner}</svg>`;

const DAY_SEA = ['#5f93a8', '#4f8299', '#3f6f86', '#325d73'];
const GREY_SEA = ['#8aa5ad', '#76949e', '#63828d', '#50707c'];
const NIGHT_SEA = ['#1d3a50', '#183145', '#13283a', '#0f2030'];
const FOAM = '#e2eef0';

const cliffTop = (seed: number) =>
  hills(640, 70, '#6d8f5a', seed) + hills(700, 50, '#557846', seed + 1) + grass(690, '#456539', seed + 2);
const puffinDay = (seed: number, birds: string, flowers = false) =>
  draw(
    sky('#a9cbd8', '#dcebee', 640) +
      sea(470, DAY_SEA, FOAM, seed) +
      cliffTop(seed) +
      (flowers ? thrift(690, seed + 3) : '') +
      birds,
  );

function timetable(): string {
  const rows = [
    ['Brannoch', '07:15', '13:40', '17:05'],
    ['Inner Skerry', '07:55', '14:20', '17:45'],
    ['Holm light', '08:30', '14:55', '–'],
    ['Brannoch', '09:20', '15:45', '18:30'],
  ];
  const ink = '#f6f1e3';
  let inner = `<rect width="1200" height="800" fill="#1f3d52"/>${text('Winter sailings', 90, 150, { size: 84, fill: ink, bold: true })}<path d="M90 190h1020" stroke="#e8a04a" stroke-width="10"/>`;
  rows.forEach(([place, ...times], i) => {
    const y = 290 + i * 92;
    inner += text(place!, 90, y, { size: 50, fill: ink });
    times.forEach((t, k) => (inner += text(t, 690 + k * 210, y, { size: 50, fill: ink, anchor: 'end' })));
    inner += `<path d="M90 ${y + 28}h1020" stroke="#3d5c71" stroke-width="2"/>`;
  });
  inner += text('Not on 25 and 26 December', 90, 690, { size: 40, fill: '#e8a04a', bold: true });
  return draw(inner + ferry(930, 690, 0.42));
}

function tides(): string {
  const x = (hour: number) => 110 + hour * 42;
  const y = (metres: number) => 600 - metres * 90;
  let curve = `M${x(0)} ${y(2.6)}`;
  for (let h = 0.5; h <= 24; h += 0.5)
    curve += `L${x(h).toFixed(1)} ${y(2.75 + 1.9 * Math.sin(((h - 3.1) * Math.PI) / 6.2)).toFixed(1)}`;
  let inner = `<rect width="1200" height="720" fill="#fdfcf8"/>${text('Tides at Brannoch quay', 110, 76, { size: 44, fill: '#1b2129', bold: true })}`;
  for (let m = 1; m <= 5; m++)
    inner += `<path d="M110 ${y(m)}h1010" stroke="#d8d2c3" stroke-width="2"/>${text(`${m} m`, 92, y(m) + 10, { size: 28, fill: '#515a66', anchor: 'end' })}`;
  for (let h = 0; h <= 24; h += 6)
    inner += text(`${String(h).padStart(2, '0')}:00`, x(h), 660, { size: 28, fill: '#515a66', anchor: 'middle' });
  return draw(`${inner}<path d="${curve}" fill="none" stroke="#243f8f" stroke-width="8"/>`, 1200, 720);
}

function passengers(): string {
  const values = [118, 131, 190, 262, 388, 471, 655, 702, 424, 241, 126, 142];
  const months = ['J', 'F', 'M', 'A', 'M', 'J', 'J', 'A', 'S', 'O', 'N', 'D'];
  let inner = `<rect width="1200" height="720" fill="#fdfcf8"/>${text('Passengers a day, by month', 90, 80, { size: 44, fill: '#1b2129', bold: true })}<path d="M90 620h1050" stroke="#1b2129" stroke-width="3"/>`;
  values.forEach((v, i) => {
    const h = v * 0.66;
    inner += `<rect x="${100 + i * 87}" y="${620 - h}" width="62" height="${h}" fill="${v > 600 ? '#7a1f55' : '#2c5475'}"/>${text(months[i]!, 131 + i * 87, 664, { size: 30, fill: '#515a66', anchor: 'middle' })}${text(String(v), 131 + i * 87, 606 - h, { size: 26, fill: '#1b2129', anchor: 'middle' })}`;
  });
  return draw(inner, 1200, 720);
}

/** The height of the water as a formula: a mean height and a cosine of the time over the period. */
function tideCurve(): string {
  const ink = '#1b2129';
  const part = (words: string, x: number, y: number, size = 64) => text(words, x, y, { size, fill: ink });
  return draw(
    `<rect width="720" height="180" fill="#fdfcf8"/>${part('h(t) = h', 30, 112)}${part('0', 252, 126, 36)}${part('+ a cos', 300, 112)}${part('6.28 t', 536, 76, 48)}<path d="M530 96h120" stroke="${ink}" stroke-width="4"/>${part('T', 570, 156, 56)}`,
    720,
    180,
  );
}

function harbourMap(): string {
  const label = (words: string, x: number, y: number, fill = '#1b2129') =>
    text(words, x, y, { size: 34, fill, bold: true, anchor: 'middle' });
  return draw(
    `<rect width="1200" height="800" fill="#bcd6dd"/><path d="M0 0h1200v170q-140 60-250 40-90-10-110 60t-150 50-190-30-160 60-140-20-200 30z" fill="#dfe3c8"/><path d="M0 0h1200v70H0z" fill="#cfd5b4"/><path d="M300 300h60v300h-60zM360 540h240v60H360z" fill="#a9a498"/><path d="M860 240h64v340h-64z" fill="#a9a498"/><path d="M740 520h120v60H740z" fill="#a9a498"/><g fill="#fcfbf7" stroke="#1b2129" stroke-width="4"><rect x="120" y="90" width="210" height="110"/><rect x="470" y="110" width="220" height="100"/><rect x="900" y="90" width="200" height="100"/></g><path d="M0 60Q400 20 700 66T1200 40" stroke="#f7f4ea" stroke-width="26" fill="none"/>${label('Tickets', 225, 156)}${label('Café', 580, 172)}${label('Bicycles', 1000, 152)}${label('Ferry berth', 480, 656, '#1f3d52')}${label('Fishing pier', 890, 636, '#1f3d52')}<g transform="translate(1100 680)"><circle r="62" fill="#fcfbf7" stroke="#1b2129" stroke-width="4"/><path d="M0-50l16 50H-16z" fill="#b8433c"/><path d="M0 50l16-50H-16z" fill="#1b2129"/></g>${label('N', 1100, 604)}` +
      ferry(470, 500, 0.42),
  );
}

function holmFromAbove(): string {
  const next = random(5);
  let trees = '';
  for (let i = 0; i < 60; i++)
    trees += `<circle cx="${Math.round(430 + next() * 340)}" cy="${Math.round(300 + next() * 200)}" r="${Math.round(5 + next() * 9)}" fill="#4f7040"/>`;
  return draw(
    `<rect width="1200" height="800" fill="#3f7d92"/><path d="M230 420q20-220 290-250 330-40 450 150 90 170-80 290-230 130-470 60-190-70-190-250z" fill="#6fa5b3"/><path d="M270 420q20-190 260-220 300-30 400 130 70 150-80 250-200 110-410 50-170-60-170-210z" fill="#e5dcb9"/><path d="M306 418q30-150 240-180 250-20 340 110 60 120-80 210-170 90-350 40-150-50-150-180z" fill="#7d9b63"/><path d="M420 430q90-110 260-90 150 20 170 90" fill="none" stroke="#e5dcb9" stroke-width="10"/>${trees}<circle cx="836" cy="330" r="26" fill="#f6f2e7"/><circle cx="836" cy="330" r="14" fill="#b8433c"/><path d="M560 606v110" stroke="#a9a498" stroke-width="20"/>` +
      ferry(640, 742, 0.2) +
      [120, 1040]
        .map(
          (x, i) => `<path d="M${x} ${130 + i * 420}q20-10 40 0t40 0" stroke="#cfe3e8" stroke-width="5" fill="none"/>`,
        )
        .join(''),
  );
}

const icon = (inner: string) =>
  draw(
    `<g fill="none" stroke="#1f3d52" stroke-width="7" stroke-linecap="round" stroke-linejoin="round">${inner}</g>`,
    96,
    96,
  );
const ticket = (name: string, price: string, tone: string) =>
  draw(
    `<rect x="20" y="40" width="560" height="320" rx="18" fill="${tone}"/><path d="M430 40v320" stroke="#fcfbf7" stroke-width="6" stroke-dasharray="2 18" stroke-linecap="round"/><circle cx="430" cy="40" r="24" fill="#f3f0e8"/><circle cx="430" cy="360" r="24" fill="#f3f0e8"/>${text(name, 60, 150, { size: 62, fill: '#fcfbf7', bold: true })}${text('Skerry Sound ferries', 60, 300, { size: 30, fill: '#fcfbf7' })}${text(price, 505, 220, { size: 58, fill: '#fcfbf7', bold: true, anchor: 'middle' })}`,
    600,
    400,
  );

/** What guests sent in: the same sea on other days. */
function guestPictures(photo: Pick<Drawn, 'quality' | 'grain'>): Drawn[] {
  const scenes = [
    sun(400, 330, 80, '#d9722e') + sea(480, NIGHT_SEA, '#3b5b73', 71) + ferry(760, 560, 0.6),
    sea(480, DAY_SEA, FOAM, 72) + quay(540) + perchedGull(420, 490, 0.8),
    sun(900, 220, 70, '#f0c27a') + sea(480, DAY_SEA, FOAM, 73) + gull(360, 260, 0.9) + gull(520, 330, 0.6),
    sea(480, NIGHT_SEA, '#3b5b73', 74) + ferry(480, 560, 1, true),
    sea(480, GREY_SEA, FOAM, 75) + perchedGull(640, 470, 1.3),
    cloud(300, 200, 1.4) + cloud(820, 260, 1.2) + sea(480, GREY_SEA, FOAM, 76),
    sea(480, DAY_SEA, FOAM, 77) + ferry(600, 560, 1.5),
    hills(520, 120, '#7c9a63', 78, 620) + cottage(600, 620, 1.2) + grass(660, '#4f7040', 79),
    sea(480, GREY_SEA, FOAM, 80) + quay(560) + ferry(900, 640, 0.5),
    cloud(500, 240, 2.2, '#b9c2c6') + sea(480, GREY_SEA, FOAM, 81) + gull(700, 360, 0.7),
    sea(480, DAY_SEA, FOAM, 82) + lighthouse(820, 560, 0.7),
    sea(480, DAY_SEA, FOAM, 83) + seal(600, 600, 1, true),
  ];
  return scenes.map((scene, i) => ({
    file: `guest-${String(i + 1).padStart(2, '0')}.jpg`,
    ...photo,
    width: 960,
    svg: draw(sky(i % 3 === 0 ? '#d8a878' : '#a9cbd8', i % 2 ? '#e9ece6' : '#f6e8cb') + scene),
  }));
}

/** Everything that is to be seen on Skerry Sound. */
export function pictures(): Drawn[] {
  const photo = { width: 960, quality: 74, grain: 4 };
  return [
    {
      file: 'logo.svg',
      width: 260,
      svg: draw(
        `<path d="M14 44q14-16 28 0t28 0 28 0" stroke="#2c5475" stroke-width="6" fill="none"/><path d="M56 34L50 6h16L60 34z" fill="#b8433c"/>${text('Skerry Sound', 112, 42, { size: 34, fill: '#1f3d52', bold: true })}`,
        340,
        60,
      ),
    },
    {
      file: 'hero-ferry.jpg',
      width: 1600,
      quality: 90,
      grain: 14,
      svg: draw(
        sky('#e9d3a8', '#f6e8cb') +
          sun(960, 250, 66, '#e8a04a') +
          cloud(260, 180, 1.1, '#fff6e2') +
          cloud(620, 120, 0.8, '#fff6e2') +
          hills(486, 120, '#8a9a8c', 3, 520) +
          sea(480, DAY_SEA, FOAM, 4) +
          ferry(560, 560, 1.35) +
          gull(330, 300, 0.7) +
          gull(230, 350, 0.5),
      ),
    },
    {
      file: 'hero-ferry-narrow.webp',
      width: 640,
      quality: 76,
      svg: draw(
        sky('#e9d3a8', '#f6e8cb') +
          sun(960, 250, 66, '#e8a04a') +
          hills(486, 120, '#8a9a8c', 3, 520) +
          sea(480, DAY_SEA, FOAM, 4) +
          ferry(560, 560, 1.35),
      ),
    },
    {
      file: 'quay-morning.avif',
      ...photo,
      quality: 55,
      svg: draw(
        sky('#c7d7dc', '#f3e3cf') +
          sun(860, 420, 54, '#f0c27a') +
          hills(480, 90, '#9aa9a6', 8, 520) +
          sea(480, GREY_SEA, FOAM, 9) +
          quay(560) +
          ferry(980, 640, 0.7) +
          perchedGull(344, 508, 0.5) +
          perchedGull(584, 508, 0.45, true),
      ),
    },
    {
      file: 'ferry-night.webp',
      ...photo,
      svg: draw(
        sky('#0f1d2c', '#2c4a63') +
          Array.from(
            { length: 60 },
            (
              (next) => () =>
                `<circle cx="${Math.round(next() * 1200)}" cy="${Math.round(next() * 400)}" r="${(1 + next() * 2).toFixed(1)}" fill="#f3efe4"/>`
            )(random(21)),
          ).join('') +
          hills(486, 110, '#16283a', 5, 520) +
          sea(480, NIGHT_SEA, '#3b5b73', 6) +
          ferry(600, 570, 1.2, true),
      ),
    },
    {
      file: 'lighthouse.jpg',
      ...photo,
      svg: draw(
        sky('#9fc3d4', '#dfeaea', 510) +
          cloud(260, 170, 1.2) +
          cloud(960, 240, 0.9) +
          sea(500, DAY_SEA, FOAM, 12) +
          hills(640, 60, '#7c8f62', 13) +
          hills(690, 40, '#5f7a4b', 14) +
          lighthouse(760, 640, 0.98) +
          cottage(470, 650, 0.8) +
          grass(690, '#456539', 15) +
          gull(300, 360, 0.6),
      ),
    },
    {
      file: 'lighthouse-1862.jpg',
      ...photo,
      svg: draw(
        sky('#9fc3d4', '#dfeaea', 510) +
          cloud(260, 170, 1.2) +
          cloud(960, 240, 0.9) +
          sea(500, DAY_SEA, FOAM, 12) +
          hills(640, 60, '#7c8f62', 13) +
          hills(690, 40, '#5f7a4b', 14) +
          lighthouse(760, 640, 0.98) +
          cottage(470, 650, 0.8) +
          grass(690, '#456539', 15) +
          gull(300, 360, 0.6),
      ),
    },
    {
      file: 'cottage.jpg',
      ...photo,
      svg: draw(
        sky('#b9d3dd', '#eef0e6', 640) +
          cloud(900, 180, 1.1) +
          hills(520, 110, '#93a887', 17, 620) +
          hills(640, 50, '#7c9a63', 18) +
          cottage(560, 640, 1.7) +
          grass(660, '#4f7040', 19) +
          thrift(670, 20),
      ),
    },
    {
      file: 'cottage-narrow.webp',
      width: 480,
      quality: 74,
      // Planted: for narrow screens somebody has put the cottage at night.
      svg: draw(
        sky('#0f1c2e', '#2c3a52', 640) +
          hills(520, 110, '#16241f', 17, 620) +
          hills(640, 50, '#101b17', 18) +
          `<circle cx="930" cy="150" r="52" fill="#f1ead2"/><path d="M470 470h170v150H470z" fill="#20242b"/><path d="M500 510h34v34h-34z" fill="#f3c969"/>` +
          grass(660, '#0c1410', 19),
      ),
    },
    {
      file: 'IMG_2041.jpg',
      ...photo,
      svg: puffinDay(31, puffin(470, 640, 1.5) + puffin(800, 650, 1.5, 'standing', true)),
    },
    { file: 'IMG_2042.jpg', ...photo, svg: puffinDay(32, puffin(600, 650, 2, 'fish'), true) },
    { file: 'IMG_2043.jpg', ...photo, svg: puffinDay(33, puffin(640, 380, 1.6, 'flying')) },
    { file: 'IMG_2044.jpg', ...photo, svg: puffinDay(34, puffin(590, 690, 1.8, 'burrow')) },
    {
      file: 'IMG_2045.jpg',
      ...photo,
      svg: puffinDay(
        35,
        puffin(380, 660, 1.3) + puffin(610, 680, 1.3, 'bowing') + puffin(880, 660, 1.3, 'standing', true),
        true,
      ),
    },
    {
      file: 'IMG_2046.jpg',
      ...photo,
      svg: puffinDay(36, puffin(540, 650, 1.7, 'bowing') + puffin(760, 660, 1.7, 'standing', true)),
    },
    {
      file: 'IMG_2047.jpg',
      ...photo,
      svg: puffinDay(
        37,
        [180, 360, 560, 740, 930, 1080]
          .map((x, i) => puffin(x, 640 + (i % 3) * 26, 0.8, 'standing', i % 2 === 1))
          .join(''),
      ),
    },
    {
      file: 'IMG_2048.jpg',
      ...photo,
      svg: puffinDay(38, puffin(600, 620, 1.9, 'standing', true) + thrift(650, 39, 40)),
    },
    {
      file: 'staff-01.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#c98f6b', hair: '#2b2320', coat: '#27405a', ground: '#cfd8cf', style: 'cap' })),
    },
    {
      file: 'staff-02.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#8a5a3c', hair: '#1d1714', coat: '#7a1f55', ground: '#e3d6bd', style: 'bun' })),
    },
    {
      file: 'staff-03.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#e3b796', hair: '#a8632d', coat: '#1e6449', ground: '#c6d6de', style: 'beard' })),
    },
    {
      file: 'staff-04.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#f0cfae', hair: '#c9a250', coat: '#855600', ground: '#d5d9e2', style: 'long' })),
    },
    {
      file: 'staff-05.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#6b4430', hair: '#171210', coat: '#2c5475', ground: '#dcd4c4', style: 'short' })),
    },
    {
      file: 'staff-06.jpg',
      ...photo,
      width: 480,
      svg: draw(portrait({ skin: '#dba986', hair: '#6b7076', coat: '#b8433c', ground: '#c9d4c2', style: 'hat' })),
    },
    ...(
      [
        ['skerry-lass.jpg', '#e2d6c0', 520, 1.25],
        ['holm-maid.jpg', '#cfdbe0', 700, 0.9],
        ['margaret-ann.jpg', '#c9c3b6', 400, 0.75],
        ['brannoch-belle.jpg', '#d5dfd2', 620, 1.05],
        ['inner-light.jpg', '#d9d2dd', 800, 0.8],
      ] as const
    ).map(([file, tone, x, scale], i) => ({
      file,
      ...photo,
      width: 640,
      svg: draw(
        sky(tone, '#f4eee2') +
          cloud(240 + i * 130, 150 + i * 20, 1, '#fff8ea') +
          hills(486, 70 + i * 14, '#8a9a8c', 51 + i, 520) +
          sea(480, i % 2 ? GREY_SEA : DAY_SEA, FOAM, 61 + i) +
          ferry(x, 580, scale),
      ),
    })),
    ...guestPictures(photo),
    {
      file: 'star.svg',
      width: 32,
      svg: draw('<path d="M16 2l4 10h10l-8 7 3 11-9-7-9 7 3-11-8-7h10z" fill="#855600"/>', 32, 32),
    },
    {
      file: 'telephone.svg',
      width: 96,
      svg: icon('<path d="M24 14l14 2 4 18-10 6q6 14 20 20l6-10 18 4 2 14q-2 12-14 12Q18 70 12 28q0-12 12-14z"/>'),
    },
    { file: 'winter-sailings.png', width: 1000, svg: timetable() },
    { file: 'tides.svg', width: 1200, svg: tides() },
    { file: 'passengers.png', width: 900, svg: passengers() },
    { file: 'tide-curve.png', width: 360, svg: tideCurve() },
    { file: 'harbour-map.png', width: 960, svg: harbourMap() },
    {
      file: 'holm-from-above.jpg',
      ...photo,
      svg: holmFromAbove(),
      says: {
        'Iptc4xmpCore:AltTextAccessibility':
          'The Holm from above: green, ringed by surf, with a landing stage in the south',
      },
    },
    {
      file: 'seal.gif',
      width: 420,
      svg: [true, false].map((awake) =>
        draw(
          sky('#c9d6d8', '#e6e8e0') +
            sea(470, GREY_SEA, FOAM, 41) +
            `<path d="M140 640q120-90 420-80 360-20 520 90l40 150H80z" fill="#55595c"/>` +
            seal(580, 620, 1.15, awake),
        ),
      ),
    },
    {
      file: 'kittiwakes.webp',
      ...photo,
      says: {
        'dc:creator': 'Edda Sinclair',
        'photoshop:Credit': 'Edda Sinclair, Holm Trust',
        'xmpRights:WebStatement': 'https://holm-trust.example/rights',
        'photoshop:DateCreated': '2024-05-14T09:12:00',
      },
      svg: draw(
        sky('#b9cdd4', '#e9ece6', 800) +
          `<path d="M0 120l340-60 200 160 220 30 180 190 260 60v300H0z" fill="#6f7274"/><path d="M0 300l300-20 240 110 200 40 220 150 240 30v190H0z" fill="#5d6062"/><path d="M0 470l360 0 220 70 300 60 320 40v160H0z" fill="#4c4f51"/>` +
          [
            [150, 285],
            [270, 282],
            [470, 366],
            [640, 418],
            [820, 500],
            [120, 462],
            [300, 466],
            [560, 528],
            [740, 580],
            [980, 604],
          ]
            .map(([x, y], i) => perchedGull(x!, y!, 0.62, i % 3 === 0))
            .join('') +
          gull(820, 210, 0.9) +
          gull(980, 150, 0.7) +
          gull(700, 130, 0.5),
      ),
    },
    {
      file: 'step-free.svg',
      width: 96,
      svg: icon('<circle cx="42" cy="16" r="8"/><path d="M42 28v26h22l10 22M42 40h20M34 44a22 22 0 1 0 26 30"/>'),
    },
    {
      file: 'dogs.svg',
      width: 96,
      svg: icon('<path d="M14 40l10-12 12 8h26l14-14 8 6-6 14 4 10-8 4v22M18 44v34M34 58v20M62 58v20"/>'),
    },
    {
      file: 'cafe.svg',
      width: 96,
      svg: icon(
        '<path d="M18 36h46v22a18 18 0 0 1-18 18h-10a18 18 0 0 1-18-18zM64 42h8a9 9 0 0 1 0 18h-9M30 24q-4-6 0-12M46 24q-4-6 0-12"/>',
      ),
    },
    {
      file: 'bicycles.svg',
      width: 96,
      svg: icon(
        '<circle cx="24" cy="60" r="16"/><circle cx="72" cy="60" r="16"/><path d="M24 60l14-28h22l12 28M38 32L48 60 60 32M32 32h12M60 32l-2-8h10"/>',
      ),
    },
    {
      file: 'parking.svg',
      width: 96,
      svg: icon('<rect x="14" y="14" width="68" height="68" rx="10"/><path d="M38 70V30h14a12 12 0 0 1 0 24H38"/>'),
    },
    {
      file: 'wave-3.svg',
      width: 1200,
      svg: draw(
        [20, 40, 60]
          .map(
            (y) => `<path d="M0 ${y}${'q15-12 30 0t30 0'.repeat(20)}" stroke="#7fa8b5" stroke-width="5" fill="none"/>`,
          )
          .join(''),
        1200,
        80,
      ),
    },
    {
      file: 'planks.svg',
      width: 240,
      svg: draw(
        [0, 40, 80]
          .map(
            (y) =>
              `<path d="M0 ${y}h240v38H0z" fill="#d9cbb0"/><path d="M${(y * 3) % 240} ${y}v38" stroke="#b8a582" stroke-width="3"/>`,
          )
          .join(''),
        240,
        120,
      ),
    },
    { file: 'spacer.gif', width: 1, svg: draw('<rect width="1" height="1" fill="#f3f0e8"/>', 1, 1) },
    { file: 'day-ticket.png', width: 480, svg: ticket('Day ticket', '£12', '#2c5475') },
    { file: 'family-ticket.png', width: 480, svg: ticket('Family', '£29', '#7a1f55') },
    { file: 'cycle-ticket.png', width: 480, svg: ticket('Bicycle', '£4', '#1e6449') },
    {
      file: 'book-now.png',
      width: 240,
      svg: draw(
        `<rect width="480" height="120" rx="10" fill="#7a1f55"/>${text('Book now', 240, 80, { size: 58, fill: '#fcfbf7', bold: true, anchor: 'middle' })}`,
        480,
        120,
      ),
    },
    { file: 'search.svg', width: 96, svg: icon('<circle cx="42" cy="42" r="24"/><path d="M60 60l22 22"/>') },
    {
      file: 'newsletter.svg',
      width: 96,
      svg: icon('<rect x="12" y="24" width="72" height="50" rx="6"/><path d="M12 30l36 26 36-26"/>'),
    },
    {
      file: 'compass.svg',
      width: 200,
      svg: draw(
        '<circle cx="100" cy="100" r="86" fill="#fcfbf7" stroke="#1b2129" stroke-width="6"/><path d="M100 24l22 76H78z" fill="#b8433c"/><path d="M100 176l22-76H78z" fill="#1b2129"/>' +
          text('N', 100, 20, { size: 26, fill: '#1b2129', bold: true, anchor: 'middle' }),
        200,
        200,
      ),
    },
    {
      file: 'harbour-trust.svg',
      width: 220,
      svg: draw(
        `<circle cx="40" cy="40" r="34" fill="#1f3d52"/><path d="M40 16v46M24 46q4 18 16 18t16-18M30 28h20" stroke="#f6f1e3" stroke-width="6" fill="none" stroke-linecap="round"/>${text('Harbour Trust', 92, 50, { size: 30, fill: '#1f3d52', bold: true })}`,
        300,
        80,
      ),
    },
  ];
}
