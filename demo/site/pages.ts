import type { StoredPicture } from './store';

type Store = ReadonlyMap<string, StoredPicture>;

const escape = (text: string) =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/"/g, '&quot;')
    .replace(/\u00a0/g, '&nbsp;');

interface Printing {
  /** Words of this place alone; null prints no alt attribute at all. */
  alt?: string | null;
  more?: string;
  width?: number;
}

/** The picture block: prints the words of the store unless the page has its own. */
function picture(store: Store, id: string, { alt, more = '', width }: Printing = {}): string {
  const stored = store.get(id)!;
  const words = alt === undefined ? stored.words : alt;
  const said = words === null ? '' : ` alt="${escape(words)}"`;
  return `<img src="/pictures/${stored.file}"${said}${width ? ` width="${width}"` : ''}${more && ` ${more}`}>`;
}

const figure = (image: string, caption: string) => `<figure>${image}<figcaption>${caption}</figcaption></figure>`;

/** The block that forgets: it links the face of a member of the crew and prints no words for it. */
function crewCard(store: Store, id: string, name: string, role: string): string {
  return `<aside class="crew-card"><a href="/crew#${id}"><img src="/pictures/${store.get(id)!.file}" width="120" height="80"></a><p>Written by ${name}, ${role}</p></aside>`;
}

const wave = (store: Store, alt?: string) =>
  `<div class="wave">${picture(store, 'wave', alt === undefined ? {} : { alt })}</div>`;

export interface SitePage {
  path: string;
  title: string;
  lang?: string;
  /** Of `meta name=robots`. */
  robots?: string;
  body(store: Store): string;
}

export const PAGES: readonly SitePage[] = [
  {
    path: '/',
    title: 'Ferries to the Holm',
    body: (s) => `<h1>Ferries to the Holm</h1>
<picture><source media="(max-width: 640px)" srcset="/pictures/hero-ferry-narrow.webp">${picture(s, 'hero', { more: 'class="hero"' })}</picture>
<p>Four boats a day, every day but two, from Brannoch to Inner Skerry and the Holm light. Bring a coat.</p>
<h2>Before you come</h2>
<ul class="teasers">
<li><a href="/fares">${picture(s, 'day-ticket', { alt: 'Fares', width: 240 })} Fares</a></li>
<li><a href="/reserve">${picture(s, 'kittiwakes', { alt: '', width: 240 })} The bird reserve</a></li>
<li><a href="/cottage">${picture(s, 'cottage', { alt: '', width: 240 })} Stay the night</a></li>
</ul>
${picture(s, 'spacer')}
<h2>The harbour wakes early</h2>
<p>The first boat takes the post, the bread and whoever is up.</p>
${picture(s, 'quay')}
<p>Coffee is ready at the quay from half past six.</p>
${wave(s)}`,
  },
  {
    path: '/sailings',
    title: 'Sailings',
    body: (s) => `<h1>Sailings</h1>
<p>The winter timetable runs from 1 November to 31 March.</p>
${picture(s, 'winter')}
<h2>The late boat</h2>
<p>On Fridays a fourth boat leaves after dark.</p>
${picture(s, 'night')}
<h2>Where to put the car</h2>
<p>There is room for eleven cars on the Skerry Lass.</p>
${picture(s, 'deck-plan')}
${wave(s)}`,
  },
  {
    path: '/fares',
    title: 'Fares and tickets',
    body: (s) => `<h1>Fares and tickets</h1>
<p>Children under five and dogs of any age travel free.</p>
<h2>Day ticket</h2>
${picture(s, 'day-ticket')}
<p>Out and back on the same day, twelve pounds.</p>
<h2>Family ticket</h2>
${picture(s, 'family-ticket')}
<p>Two grown-ups and up to three children, twenty-nine pounds.</p>
<h2>For bicycles</h2>
${picture(s, 'cycle-ticket')}
<p>Any bicycle, with or without somebody on it.</p>
<p><a href="/contact">${picture(s, 'book-now')}</a></p>`,
  },
  {
    path: '/tides',
    title: 'Tides',
    body: (s) => `<h1>Tides</h1>
<p>At spring tides the slip at Brannoch is under water for an hour, and the boat uses the north steps.</p>
${picture(s, 'tides')}
<p>Between two tides the water follows this curve, near enough:</p>
<p class="formula">${picture(s, 'tide-curve')}</p>
<p>At neap tides it moves half as far.</p>
<h2>How busy it gets</h2>
<p>If you can, come in May.</p>
${picture(s, 'passengers', { more: 'aria-describedby="passengers-as-text"' })}
${crewCard(s, 'isla', 'Isla Marr', 'skipper')}`,
  },
  {
    path: '/harbour',
    title: 'Brannoch harbour',
    body: (s) => `<h1>Brannoch harbour</h1>
<p>Everything is within two minutes of the berth. Choose a place on the map.</p>
${picture(s, 'harbour', { more: 'usemap="#harbour"' })}
<map name="harbour">
<area shape="rect" coords="96,72,264,160" href="/fares" alt="Ticket office">
<area shape="rect" coords="376,88,552,168" href="/cafe" alt="Café">
<area shape="rect" coords="720,72,880,152" href="/access#bicycles" alt="Bicycle shed">
<area shape="rect" coords="240,240,480,480" href="/sailings">
</map>
<p><object type="image/svg+xml" data="/pictures/compass.svg" role="img" aria-label="North is at the top" width="80" height="80"></object></p>
<p>The harbour is analysis_version after by the trust.</p>
<p><a href="https://harbour-trust.example/">${picture(s, 'trust', { width: 160 })}</a></p>`,
  },
  {
    path: '/cafe',
    title: 'The quay café',
    body: (s) => `<h1>The quay café</h1>
<p class="deck">Soup, bread and the best view of who is late for the boat.</p>
${picture(s, 'quay', { alt: 'Two gulls on the bollards wait for crusts as the ferry comes in' })}
<p><span role="img" aria-label="Open today" class="lamp"></span> Open whenever the boat runs.</p>
${crewCard(s, 'greta', 'Greta Holm', 'cook')}`,
  },
  {
    path: '/reserve',
    title: 'Bird reserve',
    body: (s) => `<h1>Bird reserve</h1>
<p>The Holm has been a reserve since 1931. Please keep to the boards.</p>
${figure(picture(s, 'holm'), 'The Holm from above, with the landing stage in the south')}
<h2>On the north cliff</h2>
<p>Four hundred pairs nest here, and all of them have something to say.</p>
${picture(s, 'kittiwakes', { alt: null, more: 'title="Kittiwakes on the ledges of the north cliff"' })}
<h2>At the landing</h2>
<p>The seals do not move for boats.</p>
${picture(s, 'seal')}
${crewCard(s, 'callum', 'Callum Reid', 'warden')}`,
  },
  {
    path: '/puffin-week',
    title: 'Puffin week',
    body: (s) => `<h1>Puffin week</h1>
<p>They come for the sand eels and stay for the company. Eight pictures from the hide.</p>
<div class="gallery">
${['puffin-1', 'puffin-2', 'puffin-3', 'puffin-4', 'puffin-5', 'puffin-6', 'puffin-7', 'puffin-8'].map((id) => `<p>${picture(s, id, { width: 400 })}</p>`).join('\n')}
</div>
${crewCard(s, 'callum', 'Callum Reid', 'warden')}
${wave(s)}`,
  },
  {
    path: '/a-day-on-the-holm',
    title: 'A day on the Holm',
    body: (s) => `<h1>Bird reserve</h1><h2>A day on the Holm</h2>
<p>From the hide on the north cliff you can watch them come and go all morning.</p>
${picture(s, 'puffin-1', { alt: null })}
<p>They stay from April to the first days of August, then leave for the open sea.</p>
${picture(s, 'puffin-5')}
<p>The boat back leaves at 14:55; on Sundays there is no later one.</p>
${crewCard(s, 'isla', 'Isla Marr', 'skipper')}`,
  },
  {
    path: '/lighthouse',
    title: 'The Holm light',
    body: (s) => `<h1>The Holm light</h1>
<p>Built in 1862 after the Margaret Ann was lost with all hands.</p>
${picture(s, 'lighthouse-copy', { alt: 'The Holm light of 1862: a tapering tower of four red and three white bands under a glazed lantern, seen from the landing stage' })}
<p>The tower was painted in bands so that it stands out against snow.</p>
${crewCard(s, 'noor', 'Noor Haddow', 'tickets')}`,
  },
  {
    path: '/cottage',
    title: 'Keeper’s Cottage',
    body: (s) => `<h1>Keeper’s Cottage</h1>
<p>Two bedrooms, one stove, no telephone. From Saturday to Saturday.</p>
<picture><source media="(max-width: 480px)" srcset="/pictures/cottage-narrow.webp">${picture(s, 'cottage')}</picture>
<h2>Where it stands</h2>
<p>You fall asleep to the light going round.</p>
${picture(s, 'lighthouse')}
${wave(s, '')}`,
  },
  {
    path: '/crew',
    title: 'The crew',
    body: (s) => `<h1>The crew</h1>
<p>Six people keep the boat running.</p>
${[
  ['isla', 'Isla Marr', 'Skipper since 2009.'],
  ['noor', 'Noor Haddow', 'Sells you the ticket.'],
  ['callum', 'Callum Reid', 'Counts the birds.'],
  ['greta', 'Greta Holm', 'Makes the soup.'],
  ['tam', 'Tam Rennie', 'Keeps the engine warm.'],
  ['ewan', 'Ewan Sinclair', 'Throws the rope.'],
]
  .map(
    ([id, name, line]) =>
      `<section id="${id}"><h2>${name}</h2>${picture(s, id!, { width: 240 })}<p>${line}</p></section>`,
  )
  .join('\n')}`,
  },
  {
    path: '/access',
    title: 'Access and facilities',
    body: (s) => `<h1>Access and facilities</h1>
<ul class="facilities">
<li>${picture(s, 'step-free', { width: 48 })} Step-free boarding</li>
<li>${picture(s, 'dogs', { width: 48 })} Dogs are welcome on deck</li>
<li>${picture(s, 'cafe', { width: 48 })} Café at the quay</li>
<li id="bicycles">${picture(s, 'bicycles', { width: 48 })} Room for twelve bicycles</li>
<li>${picture(s, 'parking', { width: 48 })} Long-stay car park</li>
<li><svg role="img" aria-label="Free of charge" viewBox="0 0 48 48" width="48" height="48"><path d="M6 20q18-16 36 0M13 28q11-10 22 0M20 36q4-4 8 0" fill="none" stroke="#1f3d52" stroke-width="4"/></svg> Wireless internet</li>
</ul>`,
  },
  {
    path: '/news/red-sky',
    title: 'News: a red sky in November',
    robots: 'noimageindex',
    body: (s) => `<h1>A red sky in November</h1>
<p>Everybody on the late boat had a telephone out.</p>
${picture(s, 'sunset')}
<p>The picture of the evening was taken by a passenger from Inner Skerry.</p>
${crewCard(s, 'isla', 'Isla Marr', 'skipper')}
${wave(s)}`,
  },
  {
    path: '/boats',
    title: 'The boats',
    body: (s) => `<h1>The boats</h1>
<p>Three carry people, one carries bread, and one is remembered.</p>
${['boat-1', 'boat-2', 'boat-3', 'boat-4', 'boat-5'].map((id) => `<p>${picture(s, id, { width: 320 })}</p>`).join('\n')}
<h2>How full they are just now</h2>
<p><canvas width="320" height="60"></canvas></p>
<p><svg role="img" viewBox="0 0 120 20" width="120" height="20"><path d="M0 16q15-12 30 0t30 0 30 0 30 0" fill="none" stroke="#2c5475" stroke-width="4"/></svg></p>
<p>The wind at the Holm, from the weather people:</p>
<p><img src="https://weather.example/holm/wind.png" alt="Wind at the Holm over the last day" width="320" height="80"></p>`,
  },
  {
    path: '/guests',
    title: 'From our guests',
    body: (s) => `<h1>From our guests</h1>
<p class="rating">${Array.from({ length: 4 }, () => picture(s, 'star', { width: 16, more: 'height="16"' })).join('')} from 112 people</p>
<p>You sent us these. Thank you, and do come back.</p>
<div class="gallery">
${['guest-1', 'guest-2', 'guest-3', 'guest-4', 'guest-5', 'guest-6', 'guest-7'].map((id) => `<p>${picture(s, id, { width: 400 })}</p>`).join('\n')}
</div>
<p><a href="/cottage">${picture(s, 'guest-8', { width: 400 })}</a></p>
${figure(picture(s, 'guest-9', { width: 400 }), 'The old boat and the new one, the day they met')}
<p>${picture(s, 'guest-10', { width: 400, more: 'aria-hidden="true"' })}</p>
<p><a href="/access" alt="How to reach the light with a wheelchair">${picture(s, 'guest-11', { width: 400 })} Getting there</a></p>
<p>${picture(s, 'guest-12', { width: 120, more: 'height="80"' })}</p>
<p><a href="tel:+441632960000" class="ring" style="background-image:url(/pictures/telephone.svg)"></a></p>`,
  },
  {
    path: '/contact',
    title: 'Contact and bookings',
    body: (s) => `<h1>Contact and bookings</h1>
<p>Ring the bell at the ticket office, or write.</p>
<form action="/search"><label>Look for <input name="q"></label> <input type="image" src="/pictures/${s.get('search')!.file}" width="32"></form>
<p><button type="button">${picture(s, 'newsletter', { width: 48 })}</button></p>`,
  },
  {
    path: '/willkommen',
    title: 'Willkommen auf der Fähre',
    lang: 'de',
    body: (s) => `<h1>Willkommen auf der Fähre</h1>
<p>Das Schiff fährt viermal am Tag.</p>
${picture(s, 'hero', { alt: 'Das Bild zeigt die Fähre nach Inner Skerry' })}
<p>Hunde fahren umsonst mit.</p>
${picture(s, 'dogs', { alt: 'Symbolbild' })}`,
  },
];

const NAV = PAGES.filter((p) => !['/', '/cafe', '/a-day-on-the-holm', '/news/red-sky', '/willkommen'].includes(p.path));

/** A page that says nothing until its script has asked for the boats of the day and put them in. */
export const DEPARTURES = `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><title>Departures today – Skerry Sound</title><link rel="stylesheet" href="/style.css"></head>
<body><div id="board"></div><noscript>Ring the ticket office for the boats of the day.</noscript>
<script type="module" src="/departures.js"></script>
</body>
</html>
`;

export const DEPARTURES_SCRIPT = `const board = document.getElementById('board');
const boats = await (await fetch('/departures.json')).json();
board.innerHTML = '<main><h1>Departures today</h1>' + boats.map((b) =>
  '<section><h2>' + b.time + ' to ' + b.to + '</h2><img src="/pictures/' + b.picture + '" width="480" height="320"' +
  (b.words === null ? '' : ' alt="' + b.words + '"') + '></section>').join('') + '<p id="later"></p></main>';
// The picture from the mast is asked for only when somebody scrolls down to it.
const later = document.getElementById('later');
new IntersectionObserver((seen, observer) => {
  if (!seen.some((s) => s.isIntersecting)) return;
  observer.disconnect();
  later.innerHTML = '<img src="/pictures/seal.gif" width="480" height="320" alt="From the mast: a seal looks up at the slip">';
}).observe(later);
`;

/** The boats of the day, as the script asks for them. */
export const departures = (store: Store) =>
  [
    {
      time: '07:10',
      to: 'Inner Skerry',
      picture: store.get('quay')!.file,
      words: 'The boat takes bread aboard at Brannoch',
    },
    { time: '09:40', to: 'the Holm', picture: store.get('holm')!.file, words: null },
    {
      time: '14:55',
      to: 'Brannoch',
      picture: store.get('cycle-ticket')!.file,
      words: 'Bicycles ride free on this boat',
    },
  ] as const;

/** The style sheet that every page links. */
export const STYLE = `body{font:17px/1.5 Georgia,serif;color:#1b2129;max-width:860px;margin:0 auto;padding:0 16px}header,footer{padding:16px 0}nav a{margin-right:12px}img{max-width:100%;height:auto}.teasers,.facilities{list-style:none;padding:0;display:grid;gap:12px}.teasers{grid-template-columns:repeat(3,1fr)}.gallery{display:grid;grid-template-columns:1fr 1fr;gap:8px}.ring{display:block;width:48px;height:48px;background-size:contain}.crew-card{border-top:1px solid #ccc;margin-top:24px;padding-top:12px}.deck{background:#d9cbb0 url(pictures/planks.svg);padding:12px}`;

/** One page of the site as the content system prints it. */
export function printPage(page: SitePage, store: Store): string {
  return `<!doctype html>
<html lang="${page.lang ?? 'en'}">
<head><meta charset="utf-8">${page.robots ? `<meta name="robots" content="${page.robots}">` : ''}<title>${page.title} – Skerry Sound</title><link rel="stylesheet" href="/style.css">
<link rel="icon" href="/pictures/compass.svg"><meta property="og:image" content="/pictures/hero-ferry.jpg">${page.path === '/' ? '<meta property="og:image:alt" content="The Skerry Lass between two islands">' : ''}</head>
<body>
<header><a href="/">${picture(store, 'logo', { width: 220 })}</a>
<nav>${NAV.map((p) => `<a href="${p.path}">${p.title}</a>`).join(' ')}</nav></header>
<main>
${page.body(store)}
</main>
<footer><p><a href="/cafe">Café</a> <a href="/a-day-on-the-holm">A day on the Holm</a> <a href="/news/red-sky">News</a> <a href="/willkommen" lang="de">Deutsch</a> <a href="/staff-only/rota">Rota</a> <a href="/old-timetable">Old timetable</a> <a href="/departures">Departures today</a></p></footer>
</body>
</html>
`;
}
