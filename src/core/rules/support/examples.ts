import { PageBuilder, type PlacedObject } from '../../formats/page-builder';
import { readSource } from '../../formats/html/read-page';
import type { Picture } from '../../model/picture';
import { NOT_ANALYSED } from '../../model/picture-analysis';
import { proposePurpose } from '../../purpose/propose';
import type { Example } from './rule';
import type { RuleContext } from '../../model/rule-context';

/** An example of a rule as a small collection: each distinct `src` is one picture. */
export function exampleContexts(example: Example): RuleContext[] {
  const contexts: RuleContext[] = [];
  [example.html].flat().forEach((html, p) => {
    const { appearances } = example.objects
      ? objectPage(example.objects)
      : readSource(`<!doctype html><html lang="${example.lang ?? 'en'}"><body>${html}</body>`);
    for (const read of appearances) {
      const appearance = example.byScript ? { ...read, location: { kind: 'script' as const } } : read;
      const id = appearance.markup.src ?? `element ${p}.${appearance.order}`;
      const pictureAt = (id: string, src: string | null): Picture => ({
        id,
        sha256: id,
        type: 'image/jpeg',
        bytes: 1000,
        width: 100,
        height: 100,
        src,
        broken: null,
        unread: null,
        smallerCopyBytes: null,
        ...example.pictures?.[id],
        analysis: example.pictures?.[id]?.analysis ? { ...NOT_ANALYSED, ...example.pictures[id].analysis } : null,
      });
      const picture = pictureAt(id, appearance.markup.src);
      contexts.push({
        id: `${p}.${appearance.order}`,
        page: {
          path: `page-${p}.html`,
          format: example.format ?? (example.objects ? 'docx' : 'html'),
          lang: example.lang ?? 'en',
          title: '',
          description: null,
          headings: [],
          directives: [],
          ...example.page,
        },
        picture,
        variants: appearance.markup.candidates.filter((c) => c.src !== id).map((c) => pictureAt(c.src, c.src)),
        appearance,
        purpose: example.purpose ?? proposePurpose(appearance, picture).purpose,
        purposeSettled: example.purpose !== undefined,
        targetTitle: example.targetTitle ?? null,
        isThumbnail: example.isThumbnail ?? false,
      });
    }
  });
  return contexts;
}

const PLAIN: PlacedObject = {
  ...{ element: 'picture', alt: null, title: null, isDecorative: false, src: null, place: 'body > picture' },
  location: { kind: 'object', part: 'document', object: '' },
};

/** A page of a document with a few objects on it. */
function objectPage(objects: readonly Partial<PlacedObject>[]) {
  const page = new PageBuilder();
  for (const object of objects) page.add({ ...PLAIN, ...object });
  return page.build({ title: '', lang: 'en' });
}
