/** What the stand-in drafting service says of a demo picture, by the name of its file. */
export interface PreparedText {
  alt: string;
  decorative?: true;
  /** What it says when it is asked once more; the same where it is not there. */
  again?: string;
  uncertain?: string[];
  longDescription?: string;
}

/** Some are wrong on purpose, as machines are: what is wrong stands beside them. */
export const PREPARED: Readonly<Record<string, PreparedText>> = {
  'IMG_2041.jpg': {
    alt: 'Two puffins face each other on a grassy cliff top, bills nearly touching',
    uncertain: ['nearly touching'],
  },
  'IMG_2042.jpg': { alt: 'A puffin on the cliff with small fish across its bill' },
  'IMG_2043.jpg': { alt: 'A puffin in flight over the sea, wings spread' },
  'IMG_2044.jpg': { alt: 'A puffin looks out of its burrow' },
  // A false count: there are three.
  'IMG_2045.jpg': { alt: 'Four puffins stand in a row among pink thrift' },
  'IMG_2046.jpg': { alt: 'Two puffins lean against each other among pink thrift' },
  // An opening that says nothing; left out when it is named.
  'IMG_2047.jpg': {
    alt: 'Image of six puffins spread along the cliff edge',
    again: 'Six puffins spread along the cliff edge',
  },
  'IMG_2048.jpg': { alt: 'A puffin stands alone on the cliff and looks out to sea' },
  // Another language than the page.
  'kittiwakes.webp': { alt: 'Dreizehenmöwen brüten auf schmalen Felsvorsprüngen über dem Wasser der Bucht' },
  // Keywords, and no better when it is asked again.
  'hero-ferry.jpg': { alt: 'ferry, Skerry ferry, cheap ferry tickets, Skerry Sound ferry, island ferry boat' },
  // Too long; shorter when it is asked again.
  'lighthouse.jpg': {
    alt: 'A tall lighthouse with bold red and white stripes rises beside a small white cottage with blue windows on a green headland under a pale blue sky with two clouds',
    again: 'A red and white striped lighthouse beside a white cottage with blue windows',
  },
  'lighthouse-1862.jpg': { alt: 'The striped lighthouse and the keeper’s cottage' },
  'cottage.jpg': { alt: 'A whitewashed cottage with blue windows and red geraniums' },
  'quay-morning.avif': { alt: 'The ferry comes in to the stone quay in early morning light' },
  'ferry-night.webp': { alt: 'The ferry at sea by night, windows lit' },
  'holm-from-above.jpg': { alt: 'The Holm from above: a green island with a landing stage in the south' },
  'seal.gif': { alt: 'A seal rests in the water and lifts its head' },
  'passengers.png': {
    alt: 'Bar chart of passengers a day by month: fewest in January, most in July and August',
    longDescription:
      'Passengers a day, by month.\n\n| Month | Passengers |\n| --- | --- |\n| January | 118 |\n| July | 655 |\n| August | 702 |\n| December | 142 |',
  },
  'tides.svg': { alt: 'Line chart of the tide at Brannoch quay over one day, with two high waters' },
  'harbour-map.png': { alt: 'Map of Brannoch harbour with ticket office, café, bicycle shed and ferry berth' },
  'winter-sailings.png': { alt: 'Winter sailings: Brannoch 07:15, 13:40 and 17:05; not on 25 and 26 December' },
  'day-ticket.png': { alt: 'Day ticket, £12' },
  'family-ticket.png': { alt: 'Family ticket, £29' },
  'cycle-ticket.png': { alt: 'Bicycle ticket, £4' },
  'book-now.png': { alt: 'Book now' },
  'staff-01.jpg': { alt: 'Smiling, in a dark skipper’s cap', uncertain: ['skipper’s'] },
  'staff-02.jpg': { alt: 'Smiling, dark hair in a bun' },
  'staff-03.jpg': { alt: 'Red-bearded and smiling, in a green jacket' },
  'staff-04.jpg': { alt: 'Smiling, with long fair hair' },
  'staff-05.jpg': { alt: 'Smiling, with short dark hair' },
  'staff-06.jpg': { alt: 'Smiling, in a red bobble hat' },
  'guest-01.jpg': { alt: 'The ferry crosses in front of a red setting sun' },
  'guest-02.jpg': { alt: 'A gull waits at the end of the stone quay' },
  'guest-03.jpg': { alt: 'Gulls over a calm sea, the sun high' },
  'guest-04.jpg': { alt: 'The ferry leaves at dusk under an orange sky' },
  'guest-05.jpg': { alt: 'A gull has settled on the rail' },
  'guest-06.jpg': { alt: 'Open sea under two white clouds' },
  'guest-07.jpg': { alt: 'The ferry seen from close by, red funnel in front' },
  'guest-08.jpg': { alt: 'A white cottage between green hills' },
  'guest-09.jpg': { alt: 'The ferry arrives at the end of the stone quay' },
  'guest-10.jpg': { alt: 'A rain cloud clears over the sea' },
  'guest-11.jpg': { alt: 'The striped lighthouse far out in a calm sea' },
  'guest-12.jpg': { alt: 'A seal lies in the water, head up' },
  'skerry-lass.jpg': { alt: 'The Skerry Lass under a cloudy sky' },
  'holm-maid.jpg': { alt: 'The Holm Maid in a light swell' },
  'margaret-ann.jpg': { alt: 'The Margaret Ann off the headland' },
  'brannoch-belle.jpg': { alt: 'The Brannoch Belle at sea' },
  'inner-light.jpg': { alt: 'The Inner Light on a calm sea at dusk' },
  'wave-3.svg': { alt: '', decorative: true },
  'spacer.gif': { alt: '', decorative: true },
};
