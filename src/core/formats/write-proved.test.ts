import { html } from './html';
import { markdown } from './markdown';
import { writeProved } from './write-proved';

const PAGE = Buffer.from(
  '<p>Sea</p><img src=a.png alt="A  gull"><img src=b.png alt=""><img src=c.png aria-label="Quay"><img src=d.png>',
);

test('words that are there already change no byte, and are no change', async () => {
  const same = [
    { order: 0, text: 'A  gull' },
    { order: 1, text: '' },
    { order: 2, text: 'Quay' },
  ];
  const written = await writeProved(html, PAGE, same);
  expect(Buffer.from(written.bytes).equals(PAGE)).toBe(true);
  expect(written.changes).toEqual([]);
  // Beside one that changes, they stay as they are too.
  const one = await writeProved(html, PAGE, [...same, { order: 3, text: 'A boat' }]);
  expect(one.changes.map((c) => c.order)).toEqual([3]);
  expect(Buffer.from(one.bytes).toString()).toBe(PAGE.toString().replace('src=d.png', 'src=d.png alt="A boat"'));
  const readme = Buffer.from('![A *gull*][g] and ![](b.png)\n\n[g]: a.png\n');
  const kept = await writeProved(markdown, readme, [{ order: 0, text: 'A gull' }]);
  expect(Buffer.from(kept.bytes).toString()).toBe(readme.toString());
});

test('a change that the reader of the result does not find is refused', async () => {
  const forgetful = { ...html, write: async (bytes: Uint8Array) => ({ bytes, changes: [], refusals: [] }) };
  const { refusals } = await writeProved(forgetful, PAGE, [{ order: 3, text: 'A boat' }]);
  expect(refusals).toEqual([{ order: 3, part: 'attributes', line: 0, reason: { id: 'refusal.not-heard' } }]);
});

test('a title goes in although the words beside it stand already', async () => {
  const written = await writeProved(html, PAGE, [{ order: 0, text: 'A  gull', title: 'Herring gull' }]);
  expect(Buffer.from(written.bytes).toString()).toContain('src=a.png title="Herring gull" alt="A  gull"');
});
