import { formatById, formatOf } from './index';

const head = (text: string, name = '', type: string | null = null) => ({ bytes: Buffer.from(text), name, type });

test.each([
  ['by the type of its server', head('hello', 'x', 'text/html; charset=utf-8'), 'html'],
  ['by its first bytes', head('\ufeff\n<!DOCTYPE html><title>x'), 'html'],
  ['by its name', head('<p>no head at all', 'quay.htm'), 'html'],
  ['not by its name when the type is another', head('<!doctype html>', 'a.html', 'application/pdf'), 'pdf'],
  ['not when its type is no document’s', head('<!doctype html>', 'a.html', 'application/json'), null],
  ['not a picture', head('GIF89a', 'dot.gif'), null],
])('a file is known %s', (_, file, id) => expect(formatOf(file)?.id ?? null).toBe(id));

test('a format reads what it wrote', async () => {
  const html = formatById('html');
  const before = Buffer.from('<!doctype html><img src=a.png><p>Text');
  const { bytes, changes, refusals } = await html.write(before, [{ order: 0, text: 'The quay' }]);
  expect([changes.length, refusals.length]).toEqual([1, 0]);
  expect((await html.read(bytes)).pages[0]!.reading.appearances[0]!.accessible.name).toBe('The quay');
});
