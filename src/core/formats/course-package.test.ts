import { DocumentError } from './document-error';
import { readManifest } from './course-package';

/** The shape of a manifest: IMS Content Packaging 1.1.4, Information Model, sections 3 and 4. */
const manifest = (items: string, resources: string, base = '') =>
  Buffer.from(
    `<?xml version="1.0" encoding="UTF-8"?><manifest xmlns="http://www.imsglobal.org/xsd/imscp_v1p1"${base}>` +
      `<organizations><organization>${items}</organization></organizations><resources>${resources}</resources></manifest>`,
  );
const item = (ref: string, title: string) => `<item identifierref="${ref}"><title>${title}</title></item>`;
const resource = (id: string, href: string) => `<resource identifier="${id}" type="webcontent" href="${href}"/>`;

test('pages come in the order in which the course shows them, not in that of its resources', () => {
  const bytes = manifest(
    item('r2', 'Tides') + item('r1', 'Knots'),
    resource('r1', 'knots.html') + resource('r2', 'tides.html'),
  );
  expect(readManifest(bytes)).toEqual([
    { path: 'tides.html', title: 'Tides' },
    { path: 'knots.html', title: 'Knots' },
  ]);
});

test('a page that two items show is read once, under its first title', () => {
  const bytes = manifest(item('r1', 'Knots') + item('r1', 'Knots again'), resource('r1', 'knots.html'));
  expect(readManifest(bytes)).toEqual([{ path: 'knots.html', title: 'Knots' }]);
});

test('items within items are pages too, and one that shows nothing is none', () => {
  const bytes = manifest(`<item><title>Part one</title>${item('r1', 'Knots')}</item>`, resource('r1', 'knots.html'));
  expect(readManifest(bytes).map((p) => p.title)).toEqual(['Knots']);
});

test('a path stands below the bases around it, without its query and its escapes', () => {
  const bytes = manifest(item('r1', 'Knots'), resource('r1', './knots%20one.html?start=1#top'), ' xml:base="course/"');
  expect(readManifest(bytes)[0]!.path).toBe('course/./knots one.html');
});

test('an item of a resource that is not there shows no page', () => {
  expect(readManifest(manifest(item('gone', 'Gone'), ''))).toEqual([]);
});

test('a manifest that is not well-formed is refused', () => {
  expect(() => readManifest(Buffer.from('<manifest><organizations></manifest>'))).toThrow(DocumentError);
});
