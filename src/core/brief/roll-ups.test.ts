import { placeName, rollUps, type FindingGroup } from './roll-ups';

const group = (kind: FindingGroup['kind'], key: string, rule: string, from: number, count: number): FindingGroup => ({
  kind,
  key,
  rule,
  appearances: Array.from({ length: count }, (_, i) => from + i),
  pages: count,
});

test('the largest reach comes first, and rules at one place are one change', () => {
  const found = rollUps([
    group('picture', '7', 'file-name', 100, 4),
    group('place', 'main>aside.crew-card>a', 'no-alt', 0, 9),
    group('place', 'main>aside.crew-card>a', 'unnamed-control', 0, 9),
  ]);
  expect(found.map((r) => [r.key, r.rules, r.pages])).toEqual([
    ['main>aside.crew-card>a', ['no-alt', 'unnamed-control'], 9],
    ['7', ['file-name'], 4],
  ]);
});

test('what a larger change fixes anyway is not told again, and two pages are no roll-up', () => {
  const found = rollUps([
    group('place', 'aside.card', 'no-alt', 0, 9),
    group('picture', '3', 'no-alt', 0, 4),
    group('picture', '9', 'echo', 50, 2),
  ]);
  expect(found.map((r) => r.key)).toEqual(['aside.card']);
});

test.each([
  ['main>aside.crew-card.big>a', 'crew card'],
  ['div>div.teaserImage>p', 'teaser image'],
  ['footer>p', 'footer'],
  ['main>p', null],
])('%s is called %s', (place, name) => expect(placeName(place)).toBe(name));
