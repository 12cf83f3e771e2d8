import type { Picture } from '../appearance';
import { activeRules, auditCollection } from '../audit';
import { readSource } from '../html/appearances';
import { proposePurpose } from '../purpose/propose';
import { RULES } from '.';
import type { Example, Rule, Spot } from './rule';

/** Lays an example out as a small collection: each distinct `src` is one picture. */
function collect(example: Example): Spot[] {
  const spots: Spot[] = [];
  [example.html].flat().forEach((html, p) => {
    const { appearances } = readSource(`<!doctype html><html lang="${example.lang ?? 'en'}"><body>${html}</body>`);
    for (const appearance of appearances) {
      const id = appearance.src ?? `element ${p}.${appearance.order}`;
      const picture: Picture = {
        id,
        sha256: id,
        type: 'image/jpeg',
        bytes: 1000,
        width: 100,
        height: 100,
        src: appearance.src,
        broken: null,
        lighter: null,
        ...example.pictures?.[id],
      };
      spots.push({
        id: `${p}.${appearance.order}`,
        page: { path: `page-${p}.html`, lang: example.lang ?? 'en' },
        picture,
        appearance,
        purpose: proposePurpose(appearance, picture).purpose,
        purposeSettled: false,
      });
    }
  });
  return spots;
}

const audit = (rule: Rule, example: Example) => auditCollection(collect(example), activeRules({}, [rule]));

describe.each(RULES.map((rule) => [rule.id, rule] as const))('%s', (id, rule) => {
  test('is documented: a title, an explanation, sources, two examples each way', () => {
    expect(rule.title).not.toBe('');
    expect(rule.about.length).toBeGreaterThan(60);
    expect(rule.sources.length).toBeGreaterThan(0);
    expect(rule.examples.passes.length).toBeGreaterThanOrEqual(2);
    expect(rule.examples.fails.length).toBeGreaterThanOrEqual(2);
  });

  test.each(rule.examples.passes.map((e) => [JSON.stringify(e.html).slice(0, 90), e] as const))(
    'passes %s',
    (_, example) => expect(audit(rule, example)).toEqual([]),
  );

  test.each(rule.examples.fails.map((e) => [JSON.stringify(e.html).slice(0, 90), e] as const))(
    'finds %s',
    (_, example) => {
      const found = audit(rule, example);
      expect(found.map((f) => f.message)).toContain(example.message);
      for (const f of found) {
        expect(f.rule).toBe(id);
        expect(rule.gives).toContain(f.outcome);
        if (f.span) expect(f.span.end).toBeGreaterThan(f.span.start);
      }
    },
  );
});

describe('published examples (from memory)', () => {
  const found = (html: string) => auditCollection(collect({ html }), activeRules()).map((f) => f.rule);

  // WCAG failure F30: text alternatives that are not alternatives.
  test.each([
    '<img src="spacer.gif" alt="spacer">',
    '<img src="pic.jpg" alt="picture 1">',
    '<img src="x/Oct.jpg" alt="Oct.jpg">',
    '<img src="chart01.jpg" alt="chart01.jpg">',
  ])('F30 %s', (html) => expect(found(html).length).toBeGreaterThan(0));
  // WCAG failure F65: omitting the alt attribute.
  test('F65', () => expect(found('<p><img src="test.png"></p>')).toEqual(['no-alt']));
  // WCAG failure F89: a linked image with null alt and nothing else in the link.
  test('F89', () => expect(found('<a href="foo.htm"><img src="bar.png" alt=""></a>')).toEqual(['unnamed-control']));
  // WCAG failure F39: words on decoration.
  test('F39', () => expect(found('<img src="border.png" alt="decorative image">')).toEqual(['decoration-described']));
  // WCAG technique H2, failing example: the same words in image and text of one link.
  test('H2', () =>
    expect(found('<a href="p.html"><img src="i.gif" alt="Products page"> Products page</a>')).toEqual(['echo']));
  // WCAG technique H36: a submit button needs an alt.
  test('H36', () => expect(found('<input type="image" src="submit.gif">')).toEqual(['unnamed-control']));
  test('H36 with alt', () => expect(found('<input type="image" src="submit.gif" alt="Submit">')).toEqual([]));
  // WCAG technique H24: areas with text alternatives.
  test('H24', () =>
    expect(
      found(
        '<img src="w.gif" alt="Areas in the library" usemap="#m"><map name="m"><area shape="rect" coords="0,0,30,30" href="r.html" alt="Reference"></map>',
      ),
    ).toEqual([]));
  // WCAG technique H67: null alt and no title.
  test('H67', () => expect(found('<img src="squiggle.jpg" alt="">')).toEqual([]));
});
