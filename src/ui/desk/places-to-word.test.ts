import { place } from '../testing/samples';
import { placesToWord } from './places-to-word';

const failing = {
  rule: 'placeholder',
  outcome: 'failed' as const,
  message: { id: 'x', values: {} },
  fixes: [],
  also: [],
};
const img = (alt: string | null) => `<img src=a.jpg${alt === null ? '' : ` alt="${alt}"`}>`;

test('words go where nothing is said, the same is said, or what is said fails; another good text stays', () => {
  const places = [
    place(img(null), { id: 1, state: 'missing' }),
    place(img(null), { id: 2, state: 'missing' }),
    place(img('image1'), { id: 3, findings: [failing] }),
    place(img('The quay at low tide'), { id: 4 }),
    place(img('The quay'), { id: 5, findings: [{ ...failing, outcome: 'advice' }] }),
    place(img(''), { id: 6, state: 'decorative' }),
  ];
  expect([...placesToWord(places)]).toEqual([1, 2, 3]);
  // Seen from the good text: it, and what fails.
  expect([...placesToWord([places[3]!, places[0]!, places[2]!, places[4]!])]).toEqual([4, 1, 3]);
});

test('another purpose, language or link target wants words of its own', () => {
  const places = [
    place(img(null), { id: 1, state: 'missing', purpose: 'informative' }),
    place(img(null), { id: 2, state: 'missing', purpose: 'functional' }),
    place('<p lang=de><img src=a.jpg></p>', { id: 3, state: 'missing', purpose: 'informative' }),
    place('<a href=/fares><img src=a.jpg></a>', { id: 4, state: 'missing', purpose: 'informative' }),
  ];
  expect([...placesToWord(places)]).toEqual([1]);
});
