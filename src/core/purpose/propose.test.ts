import { strings } from '@/ui/strings';
import { readSource } from '../formats/html/read-page';
import { proposePurpose } from './propose';

const propose = (html: string, size: { width: number; height: number } | null = null) => {
  const all = readSource(`<!doctype html><body><main>${html}</main>`).appearances;
  return proposePurpose(all[0]!, size);
};

// The kinds of the W3C WAI Images Tutorial, and what its decision tree asks (from memory).
test.each([
  ['<p>Text <img src=a alt="A puffin"> text</p>', 'informative'],
  ['<a href=/><img src=a alt=Home></a>', 'functional'],
  ['<button><img src=a alt=Search></button>', 'functional'],
  ['<input type=image src=a alt=Search>', 'functional'],
  ['<a href=/><img src=a alt=""> Home</a>', 'decorative'],
  ['<img src=a alt="">', 'decorative'],
  ['<img src=a aria-hidden=true>', 'decorative'],
  ['<img src=a usemap="#m" alt="The harbour"><map name=m><area href=x alt=x></map>', 'image map'],
  ['<img src=a alt="Bar chart of sailings">', 'complex'],
  ['<img src=a alt="Map of the harbour">', 'complex'],
  ['<img src=a lang=de alt="Lageplan des Hafens">', 'complex'],
  ['<figure><img src=a alt="Sailings"><figcaption>Flow chart</figcaption></figure>', 'complex'],
  ['<img src=a alt="The bump map dialog">', 'informative'],
  ['<img src=a alt="Screenshot of the diagram tool">', 'informative'],
  ['<img src=a alt="Uncharted waters">', 'informative'],
  ['<a href=/map><img src=a alt="Map of the harbour"></a>', 'functional'],
])('%s is %s', (html, purpose) => expect(propose(html).purpose).toBe(purpose));

test('one pixel is decoration, whatever it says', () => {
  expect(propose('<img src=a alt=spacer>', { width: 1, height: 1 })).toEqual({
    purpose: 'decorative',
    evidence: [{ id: 'evidence.pixels', values: { width: 1, height: 1 } }],
    sure: 0.95,
  });
});

test('the evidence says what it was', () => {
  expect(propose('<img src=a alt="Tide chart">').evidence.map(strings.message)).toEqual(['its text mentions a chart']);
  expect(propose('<a href=/fares><img src=a alt=Fares></a>').evidence.map(strings.message)).toEqual([
    'it is all that a link contains',
    'which leads to /fares',
  ]);
});
