/** A picture in the stand-in content system's store: its file, and the words that editors keep for it. */
export interface StoredPicture {
  id: string;
  file: string;
  /** Null when nobody wrote any; '' when the picture is meant to stay silent. */
  words: string | null;
}

/** The store as Skerry Sound's editors left it; it says more than some templates print. */
export function freshStore(): Map<string, StoredPicture> {
  const store: [id: string, file: string, words: string | null][] = [
    ['logo', 'logo.svg', 'Skerry Sound, front page'],
    ['hero', 'hero-ferry.jpg', 'ferry Skerry, Skerry ferry tickets, cheap ferry Skerry, island ferry'],
    ['quay', 'quay-morning.avif', 'Image of the quay at Brannoch in the early morning'],
    ['night', 'ferry-night.webp', 'ferry-night'],
    [
      'lighthouse',
      'lighthouse.jpg',
      'A white cottage beside the red and white striped lighthouse, two steps from the sea',
    ],
    ['lighthouse-copy', 'lighthouse-1862.jpg', null],
    ['cottage', 'cottage.jpg', 'Keeper’s Cottage, whitewashed, with blue windows and red geraniums'],
    ['puffin-1', 'IMG_2041.jpg', 'IMG_2041.jpg'],
    ['puffin-2', 'IMG_2042.jpg', 'Puffin'],
    ['puffin-3', 'IMG_2043.jpg', 'Puffin'],
    ['puffin-4', 'IMG_2044.jpg', 'puffin'],
    ['puffin-5', 'IMG_2045.jpg', 'Three puffins in a row among pink thrift, the middle one bowing'],
    ['puffin-6', 'IMG_2046.jpg', null],
    ['puffin-7', 'IMG_2047.jpg', 'Six puffins spread along the cliff edge, looking different ways'],
    ['puffin-8', 'IMG_2048.jpg', 'undefined'],
    ['isla', 'staff-01.jpg', 'Isla Marr in her skipper’s cap'],
    ['noor', 'staff-02.jpg', 'Noor Haddow at the ticket desk, hair in a bun'],
    ['callum', 'staff-03.jpg', 'Callum Reid, the warden, red-bearded and smiling'],
    ['greta', 'staff-04.jpg', 'Greta Holm, who runs the café'],
    ['tam', 'staff-05.jpg', 'Photo of Tam Rennie, engineer'],
    ['ewan', 'staff-06.jpg', 'staff_06'],
    ['winter', 'winter-sailings.png', 'Winter timetable'],
    ['tides', 'tides.svg', 'Tide chart for Brannoch quay'],
    [
      'passengers',
      'passengers.png',
      'Bar chart of the number of passengers a day in each month of the year: 118 in January, 131 in February, 190 in March, 262 in April, 388 in May, 471 in June, 655 in July, 702 in August, 424 in September, 241 in October, 126 in November and 142 in December',
    ],
    ['harbour', 'harbour-map.png', 'Map of Brannoch harbour'],
    ['holm', 'holm-from-above.jpg', 'The Holm from above, with the landing stage in the south'],
    ['seal', 'seal.gif', '\u00a0'],
    ['kittiwakes', 'kittiwakes.webp', null],
    ['step-free', 'step-free.svg', 'Step-free boarding'],
    ['dogs', 'dogs.svg', 'Icon'],
    ['cafe', 'cafe.svg', ''],
    ['bicycles', 'bicycles.svg', ''],
    ['parking', 'parking.svg', ''],
    ['wave', 'wave-3.svg', 'divider'],
    ['spacer', 'spacer.gif', 'spacer'],
    ['day-ticket', 'day-ticket.png', 'image'],
    ['family-ticket', 'family-ticket.png', 'Picture 2'],
    ['cycle-ticket', 'cycle-ticket.png', 'Bicycle ticket, four pounds'],
    ['book-now', 'book-now.png', ''],
    ['search', 'search.svg', null],
    ['newsletter', 'newsletter.svg', ''],
    ['compass', 'compass.svg', 'North is at the top'],
    ['trust', 'harbour-trust.svg', 'Brannoch Harbour Trust'],
    ['sunset', 'sunset-old.jpg', 'The last boat home against a red sky'],
    ['deck-plan', 'deck-plan.png', 'Plan of the car deck'],
  ];
  return new Map(store.map(([id, file, words]) => [id, { id, file, words }]));
}
