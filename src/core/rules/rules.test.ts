import { strings } from '../../ui/strings';
import { knowledge } from '../../server/language/dictionaries';
import { activeRules, auditCollection } from './audit';
import { RULES, ruleById } from '.';
import { exampleContexts } from './support/examples';
import type { Example, Rule } from './support/rule';

const audit = (rule: Rule, example: Example) => {
  const style = { [rule.id]: { parameters: example.parameters ?? {} } };
  return auditCollection(
    exampleContexts(example),
    activeRules(style, knowledge({ phrases: example.phrases ?? [] }), [rule]),
  );
};

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
      expect(found.map((f) => strings.message(f.message))).toContain(example.message);
      for (const f of found) {
        expect(f.rule).toBe(id);
        expect(rule.gives).toContain(f.outcome);
        if (f.span) expect(f.span.end).toBeGreaterThan(f.span.start);
      }
    },
  );
});

/** What rules of presence and purpose find on one page, and what else is asked for. */
const found = (html: string, example: Omit<Example, 'html'> = {}) =>
  auditCollection(exampleContexts({ ...example, html }), activeRules({}, knowledge()))
    .map((f) => f.rule)
    // Their files are invented.
    .filter((rule) => ruleById(rule)!.group !== 'files');

// Passed and failed examples of the W3C ACT rules, abbreviated; from memory.
describe.each([
  [
    '23a2a8, image has a non-empty accessible name',
    ['no-alt', 'blank-alt', 'unnamed-graphic'],
    [
      '<img alt="W3C logo" src="w3c.png">',
      '<div role="img" aria-label="W3C logo"></div>',
      '<div role="img" aria-labelledby="l"></div><div id="l">W3C logo</div>',
      '<img title="W3C logo" src="w3c.png">',
      '<img alt="" src="w3c.png">',
      '<img role="presentation" src="w3c.png">',
      '<p style="display:none"><img src="w3c.png"></p>',
    ],
    [
      '<img src="w3c.png">',
      '<div role="img" style="width:72px;height:48px;background:url(w3c.png)"></div>',
      '<div role="img" aria-labelledby="non-existing"></div>',
      '<img src="w3c.png" alt=" ">',
    ],
  ],
  [
    'c487ae, link has a non-empty accessible name',
    ['unnamed-control'],
    [
      '<a href="http://w3.org"><img src="w3.png" alt="Web Accessibility Initiative"></a>',
      '<a href="http://w3.org"><img src="w3.png" title="Web Accessibility Initiative"></a>',
      '<a href="http://w3.org"><img src="w3.png" alt="">More information</a>',
      '<a aria-label="W3C" href="http://w3.org"><img src="w3.png" alt=""></a>',
    ],
    [
      '<a href="http://w3.org"><img src="w3.png" alt=""></a>',
      '<a href="http://w3.org"><img src="w3.png" role="presentation" alt=""></a>',
      '<a href="http://w3.org"><span style="display:none">More</span><img src="w3.png" alt=""></a>',
    ],
  ],
  [
    '59796f, image button has a non-empty accessible name',
    ['unnamed-control'],
    [
      '<input type="image" name="search" src="s.png" alt="Search">',
      '<input type="image" name="search" src="s.png" aria-label="Search">',
      '<input type="image" name="search" src="s.png" title="Search">',
      '<input type="image" src="s.png" aria-labelledby="id1"><div id="id1">Search</div>',
    ],
    [
      '<input type="image" name="search" src="s.png">',
      '<input type="image" name="search" src="s.png" alt="">',
      '<input type="image" src="s.png" aria-labelledby="non-existing">',
    ],
  ],
  [
    '7d6734, svg element with explicit role has a name',
    ['unnamed-graphic'],
    [
      '<svg role="img"><title>1 circle</title><circle r="5"/></svg>',
      '<svg role="img" aria-label="1 circle"><circle r="5"/></svg>',
      '<svg aria-hidden="true"><circle r="5"/></svg>',
    ],
    [
      '<svg role="img"><circle r="5"/></svg>',
      '<svg role="img"><title></title><circle r="5"/></svg>',
      '<svg role="img" aria-labelledby="non-existing"><circle r="5"/></svg>',
    ],
  ],
  [
    '8fc3b6, object element has a name',
    ['unnamed-graphic'],
    [
      '<object title="W3C logo" data="w3c.png"></object>',
      '<object aria-label="W3C logo" data="w3c.svg" type="image/svg+xml"></object>',
      '<object role="presentation" data="w3c.png"></object>',
    ],
    ['<object data="w3c.png"></object>', '<object title="" data="w3c.png"></object>'],
  ],
  [
    '46ca7f, element marked as decorative is not exposed',
    ['hidden-but-named'],
    ['<img src="w3c.png" alt="">', '<img src="w3c.png" role="none">', '<svg role="none"><circle r="5"/></svg>'],
    ['<img src="w3c.png" alt="" aria-label="Logo">', '<img src="w3c.png" role="none" tabindex="0" alt="">'],
  ],
  [
    'e88epe, image not in the accessibility tree is decorative',
    ['empty-but-informative'],
    ['<p>Happy new year 2026!</p><img src="fireworks.jpg" alt="">', '<a href="/"><img src="i.png" alt=""> W3C</a>'],
    ['<figure><img src="w3c.png" alt=""><figcaption>The logo of the W3C</figcaption></figure>'],
  ],
] as const)('ACT %s', (_, rules, passed, failed) => {
  const told = (html: string) => found(html).filter((r) => (rules as readonly string[]).includes(r));
  test.each(passed.map((html) => [html]))('passes %s', (html) => expect(told(html)).toEqual([]));
  test.each(failed.map((html) => [html]))('fails %s', (html) => expect(told(html)).not.toEqual([]));
});

// Examples of WCAG's techniques and failures, abbreviated; from memory.
describe('WCAG techniques and failures', () => {
  test.each([
    ['F3', '<h1 style="background-image:url(welcome.png)"></h1>', 'informative-background'],
    ['F30', '<img src="spacer.gif" alt="spacer">', 'decoration-with-text'],
    ['F30', '<img src="pic.jpg" alt="picture 1">', 'placeholder'],
    ['F30', '<img src="x/Oct.jpg" alt="Oct.jpg">', 'file-name'],
    ['F30', '<img src="chart01.jpg" alt="chart01.jpg">', 'file-name'],
    [
      'F38',
      '<figure><img src="fall.jpg" alt=""><figcaption>Autumn leaves</figcaption></figure>',
      'empty-but-informative',
    ],
    ['F39', '<img src="border.png" alt="decorative image">', 'decoration-with-text'],
    ['F65', '<p><img src="test.png"></p>', 'no-alt'],
    ['F67', '<img src="chart.png" alt="Sales" longdesc="">', 'broken-long-description'],
    ['F72', '<img src="a.png" alt="=====::::====">', 'too-brief'],
    ['F89', '<a href="foo.htm"><img src="bar.png" alt=""></a>', 'unnamed-control'],
    ['G94', '<img src="ok.png" alt="ok.png">', 'file-name'],
    ['G196', stars('star'), 'group-split'],
    ['H2', '<a href="p.html"><img src="i.gif" alt="Products page"> Products page</a>', 'echo'],
    ['H36', '<input type="image" src="submit.gif">', 'unnamed-control'],
    ['H86', '<img src="a.png" alt="Happy :-)">', 'shouting'],
  ])('%s finds %s', (_, html, rule) => expect(found(html)).toContain(rule));

  test.each([
    ['F39', '<img src="border.png" alt="">'],
    ['G94', '<img src="h.png" alt="Gold medal winner Nicole Bouchard crosses the line">'],
    ['G196', `<img src="s.gif" alt="4 out of 5 stars" width="16" height="16">${stars('')}`],
    ['H2', '<a href="p.html"><img src="i.gif" alt=""> Products page</a>'],
    [
      'H24',
      '<img src="w.gif" alt="Areas in the library" usemap="#m"><map name="m"><area shape="rect" coords="0,0,30,30" href="r.html" alt="Reference"></map>',
    ],
    ['H36', '<input type="image" src="submit.gif" alt="Submit">'],
    ['H37', '<img src="newsletter.gif" alt="Free newsletter. Get free recipes, news, and more.">'],
    ['H67', '<img src="squiggle.jpg" alt="">'],
  ])('%s lets stand %s', (_, html) => expect(found(html)).toEqual([]));
});

function stars(alt: string): string {
  return `<p>${`<img src="s.gif" alt="${alt}" width="16" height="16">`.repeat(4)}</p>`;
}
