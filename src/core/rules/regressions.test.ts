import { knowledge } from '@/server/language/dictionaries';
import { activeRules, auditCollection } from './audit';
import { exampleContexts } from './support/examples';
import type { Example } from './support/rule';

/**
 * Small fragments for causes of wrong and of missing findings on pages that nobody tuned for (docs/precision.md), each with
 * its cause. The structures were met in documentation; the words are ours.
 */
type Case = [html: string | string[], rule: string, finds: boolean, more?: Partial<Omit<Example, 'html'>>];

const photo = (width = 640, height = 480) => ({ width, height, analysis: { kind: 'photo', sure: 0.9 } }) as const;
const icon = { width: 24, height: 24, analysis: { kind: 'icon', sure: 0.9 } } as const;
const pics = (picture: NonNullable<Example['pictures']>[string], ...names: string[]): Partial<Example> => ({
  pictures: Object.fromEntries((names.length > 0 ? names : ['p.png']).map((n) => [n, picture])),
});
const math = (alt: string) => `<p>where <img class="math" src="p.png" alt="${alt}"> is the speed of the boat</p>`;
const shows = (alt: string, before = 'The quay in winter.') => `<p>${before}</p><p><img src="p.png" alt="${alt}"></p>`;
const code = '<pre>import plot\nplot.scatter(x, y)\nplot.show()</pre>';

const CAUSES: Record<string, Case[]> = {
  'formulas are not prose': [
    [math('\\frac{a}{b}'), 'formula-source', true],
    [math('\\frac{a}{b}'), 'markup-in-text', false],
    [math('F_i'), 'formula-source', true],
    [math('F_{max} - F_{min}'), 'misspelt', false],
    [math('F_{max} - F_{min}'), 'formula-source', true],
    [math('c'), 'too-brief', false],
    [math('c'), 'formula-source', false],
    [math('N'), 'same-words', false],
    [math('\\underbrace{0 \\cdots}_{a} \\underbrace{1 \\cdots}_{b} \\underbrace{2 \\cdots}_{c}'), 'stuffed', false],
    [math('cWnd = cWnd + \\frac{a(cWnd)}{cWnd}'), 'stuffed', false],
    [math('h_\\mathrm{b}'), 'misspelt', false],
    ['<p><img src="p.png" alt="x = \\sqrt{2}"></p>', 'formula-source', true],
    ['<p><img src="p.png" alt="$x^2$"></p>', 'formula-source', true],
    ['<p><img src="p.png" alt="\\(\\alpha + \\beta\\)"></p>', 'formula-source', true],
    [math('E equals m c squared'), 'formula-source', false],
    ['<img src="p.png" alt="The folder C:\\temp\\alpha">', 'formula-source', false],
    ['<img src="p.png" alt="Adult 12 $, child 6 $">', 'formula-source', false],
    ['<img src="p.png" alt="The snake_case menu">', 'formula-source', false],
    [
      '<p><span><math><mi>r</mi></math><img aria-hidden="true" src="p.png" alt="{\\displaystyle r}"></span></p>',
      'hidden-but-named',
      false,
    ],
    ['<p><img class="math" src="d907a3c4e1257ec91ba2b8475cc048392650b648.png" alt="F"></p>', 'poor-file-name', false],
    ['<p class="equation"><img src="p.png" alt="a + b"></p>', 'too-brief', false],
    [math('\\gamma'), 'other-language', false],
    ['<img src="p.png" alt="A prior of $\\gamma_0 = 1$ on the left">', 'formula-source', true],
    ['<img src="p.png" alt="A prior of $\\gamma_0 = 1$ on the left">', 'misspelt', false],
  ],
  'captions are more than figcaption': [
    [
      '<div class="thumb"><img src="p.png" alt=""><div class="thumbcaption">The old slip</div></div>',
      'empty-but-informative',
      true,
    ],
    ['<center><img src="p.png" alt=""><br><i>The old slip in 1931</i></center>', 'empty-but-informative', true],
    ['<p><img src="p.png" alt="The old slip"></p><p>Figure 4.2. The old slip</p>', 'echo', true],
    ['<p><img src="p.png" alt="Der alte Steg"></p><p>Abb. 3: Der alte Steg</p>', 'echo', true, { lang: 'de' }],
    ['<dl><dt><img src="p.png" alt="The old slip"></dt><dd>The old slip</dd></dl>', 'echo', true],
    ['<div><img src="p.png" alt="The slip"><p class="imageCaption">The slip<a href="#">¶</a></p></div>', 'echo', true],
    ['<p><img src="p.png" alt="Men mend nets"></p><p>Figure 7. The quay in 1931</p>', 'echo', false],
  ],
  'what is said beside it is said': [
    ['<p><img src="p.png" alt=""> Pen Colour</p>', 'empty-but-informative', false],
    [
      ['<p><img src="p.png" alt=""> (POLYGON)</p>', '<img src="p.png" alt="[Polygon]">'],
      'empty-but-informative',
      false,
    ],
    [['<p><img src="p.png" alt=""> Ellipses</p>', '<img src="p.png" alt="Ellipse">'], 'empty-but-informative', false],
    [['<p><img src="p.png" alt=""></p>', '<p><img src="p.png" alt="Two seals"></p>'], 'empty-but-informative', true],
    ['<p><img src="p.png" alt="PenColour"> Pen colour</p>', 'echo', true],
    ['<p><img src="p.png" alt="[Day tickets]"></p><h3>Day Tickets</h3>', 'echo', true],
    ['<div><img src="p.png" alt="day-tickets"><h3>Day tickets</h3></div>', 'echo', true],
    [
      '<map name="m"><area href="/a" alt="Harbour"></map><a href="/a">Harbour</a><img usemap="#m" src="p.png" alt="Map of places">',
      'echo',
      false,
    ],
    [
      '<p>Winter sale: half price until Sunday.</p><img src="p.png" alt="Our sale">',
      'text-not-in-alt',
      false,
      pics({ analysis: { kind: 'poster', sure: 0.9, text: 'WinterSale\nHalf prices\nuntil Sunday', textShare: 0.3 } }),
    ],
    [
      '<p>Winter sale: half price until Sunday.</p><p><img src="p.png" alt=""></p>',
      'empty-but-informative',
      false,
      pics({
        width: 60,
        height: 60,
        analysis: { kind: 'poster', sure: 0.9, text: 'Winter sale\nhalf price\nuntil Sunday', textShare: 0.3 },
      }),
    ],
    [
      '<p>Come and see us.</p><p><img src="p.png" alt=""></p>',
      'empty-but-informative',
      true,
      pics({
        width: 300,
        height: 200,
        analysis: { kind: 'poster', sure: 0.9, text: 'Winter sale\nhalf price\nuntil Sunday', textShare: 0.3 },
      }),
    ],
  ],
  'names of options are no placeholders': [
    ['<dl><dt><img src="a.png" alt="[Top]"><dt><img src="b.png" alt="[None]"></dl>', 'placeholder', false],
    ['<dl><dt><img src="b.png" alt="(Default)"><dt><img src="a.png" alt="(Round)"></dl>', 'placeholder', false],
    ['<img src="a.png" alt="[None]">', 'placeholder', true],
    ['<ul><li><img src="a.png" alt="[image]"><li><img src="b.png" alt="[photo]"></ul>', 'placeholder', true],
    ['<ul><li><img src="a.png" alt="image"><li><img src="b.png" alt="A seal"></ul>', 'placeholder', true],
  ],
  'charts are seen as such, and terms are not': [
    [`${code}<p><img src="p.png" alt="Sailings"></p>`, 'needs-long-description', true],
    ['<p><img src="p.png" alt="Chart of Accounts after the first year"></p>', 'needs-long-description', false],
    ['<p><img src="p.png" alt="Bar chart of sailings"></p>', 'needs-long-description', true],
    [
      '<p><img src="p.png" alt="Bar chart of sailings"></p>',
      'needs-long-description',
      false,
      pics({ analysis: { kind: 'screenshot', sure: 0.9 } }),
    ],
    [
      '<p><img src="p.png" alt="Passengers"></p>',
      'needs-long-description',
      true,
      pics({ analysis: { kind: 'drawing', sure: 0.4, text: 'Passengers\n0 100 200 300 400' } }),
    ],
    [
      '<p><img src="p.png" alt="Passengers"></p>',
      'needs-long-description',
      false,
      pics({ analysis: { kind: 'photo', sure: 0.9, text: '0 100 200 300 400' } }),
    ],
    [
      '<p><img src="p.png" alt="Old numbers"></p>',
      'needs-long-description',
      false,
      pics({ analysis: { kind: 'drawing', sure: 0.4, text: '7 31 12' } }),
    ],
    [
      '<p><img src="p.png" alt="How the locks work"></p>',
      'needs-long-description',
      true,
      pics({
        width: 900,
        height: 700,
        analysis: { kind: 'diagram', sure: 0.3, text: 'Upper gate\nLower gate\nSluice\nBasin' },
      }),
    ],
    [
      '<p><img src="p.png" alt="Day ticket"></p>',
      'needs-long-description',
      false,
      pics({
        width: 600,
        height: 300,
        analysis: { kind: 'drawing', sure: 0.7, text: 'Day ticket\nSkerry Sound\nTwelve pounds' },
      }),
    ],
    ['<p><img src="p.png" alt="The bump map dialog"></p>', 'needs-long-description', false],
  ],
  'much text needs a long description whatever the kind': [
    [
      '<p><img src="p.png" alt="The report"></p>',
      'needs-long-description',
      true,
      pics({
        analysis: { kind: 'screenshot', sure: 0.9, text: 'a b c d e f g h i j k l m n o p q r s t u v w x y z' },
      }),
    ],
    [
      '<p><img src="p.png" alt="The program"></p>',
      'needs-long-description',
      false,
      pics({
        analysis: { kind: 'screenshot', sure: 0.9, text: 'File Edit c d e f g h i j k l m n o p q r s t u v w x y z' },
      }),
    ],
    [
      '<p><img src="p.png" alt="The shop"></p>',
      'needs-long-description',
      false,
      pics({ analysis: { kind: 'photo', sure: 0.9, text: 'a b c d e f g h i j k l m n o p q r s t u v w x y z' } }),
    ],
  ],
  'a larger file is what the picture shows': [
    [
      '<a href="quay-large.jpg"><img src="quay.jpg" alt="The quay at low tide"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Harbour' },
    ],
    [
      '<a href="img/quay.jpg"><img src="200px-quay.jpg" alt="Nets on the quay"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'File' },
    ],
    [
      '<a href="/wiki/File:quay.png"><img src="quay.png" alt="Nets on the quay"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Files' },
    ],
    ['<a href="tides.png"><img src="tides.png" alt="Tide chart of June"></a>', 'needs-long-description', true],
    ['<a href="/tides"><img src="tides.png" alt="Tide chart of June"></a>', 'needs-long-description', false],
    [
      '<a href="seal.jpg"><img src="quay.jpg" alt="Two birds"></a>',
      'target-unnamed',
      true,
      { targetTitle: 'Book the cruise' },
    ],
  ],
  'decoration needs proof': [
    [
      '<p><img src="p.png" alt="[Help menu button]"></p>',
      'decoration-with-text',
      false,
      pics({ width: 64, height: 60, analysis: { kind: 'pattern', sure: 0.9, text: '' } }),
    ],
    [
      '<p><img src="p.png" alt="Fill style"></p>',
      'decoration-with-text',
      false,
      pics({ width: 66, height: 34, analysis: { kind: 'pattern', sure: 0.9, text: '' } }),
    ],
    [
      '<p><img src="p.png" alt="Waves"></p>',
      'decoration-with-text',
      true,
      pics({ width: 300, height: 200, analysis: { kind: 'pattern', sure: 0.9, text: '' } }),
    ],
    [
      math('k'),
      'decoration-with-text',
      false,
      pics({ width: 120, height: 90, analysis: { kind: 'pattern', sure: 0.9, text: '' } }),
    ],
    [
      '<p>Look:</p><p><img src="p.png" alt=""></p>',
      'empty-but-informative',
      true,
      pics({ width: 220, height: 160, analysis: { kind: 'screenshot', sure: 0.8 } }),
    ],
    ['<p>Look:</p><p><img src="p.png" alt=""></p>', 'empty-but-informative', false, pics(icon)],
    [
      '<p>Look:</p><p><img src="p.png" alt=""></p>',
      'empty-but-informative',
      false,
      pics({ width: 600, height: 200, analysis: { kind: 'separator', sure: 0.9 } }),
    ],
    [
      '<p>Look: <img src="p.png" alt=""> and so on.</p>',
      'empty-but-informative',
      false,
      pics({ width: 220, height: 160, analysis: { kind: 'drawing', sure: 0.8 } }),
    ],
    [
      '<p>A happy new year.</p><img src="p.png" alt="">',
      'empty-but-informative',
      false,
      pics({ width: 220, height: 160 }),
    ],
    ['<header><p><img src="p.png" alt=""></p></header>', 'empty-but-informative', false, pics(photo())],
    [
      '<main><p>In 1953.</p><p><img src="p.png" alt=""></p></main>',
      'empty-but-informative',
      true,
      pics(photo(900, 600)),
    ],
  ],
  'labels and parameters are not prose': [
    [shows('gamma=10^-1, C=10^-2, gamma=10^0, C=10^-2'), 'word-list', true],
    [shows('gamma=10^-1, C=10^-2, gamma=10^0, C=10^-2'), 'other-language', false],
    [shows('gamma=10^-1, C=10^-2, gamma=10^0, C=10^-2'), 'stuffed', false],
    [shows('n_clusters max_iter get_words()'), 'word-list', true],
    [shows('n_clusters max_iter get_words()'), 'misspelt', false],
    [shows('alpha 0.10, alpha 0.32, alpha 1.00, alpha 3.16, alpha 10.00'), 'word-list', true],
    [shows('alpha 0.10, alpha 0.32, alpha 1.00, alpha 3.16, alpha 10.00'), 'stuffed', false],
    [shows('Degree 1 MSE = 4.08, Degree 4 MSE = 4.32, Degree 15 MSE = 1.81'), 'word-list', true],
    [shows('Degree 1 MSE = 4.08, Degree 4 MSE = 4.32, Degree 15 MSE = 1.81'), 'overlong', false],
    [shows('Apples, pears and plums on a stall'), 'word-list', false],
    [shows('118 passengers in January, 131 in February, 190 in March and 262 in April'), 'word-list', false],
    [shows('Selling Tickets, Fares Combined, Gross Prices'), 'word-list', false],
    [shows('boat, sea, sky, sunset'), 'word-list', true],
    [shows('Bounds: n_samples and n_words'), 'word-list', false],
  ],
  'call-outs show their number': [
    ['<pre>cp a b <img src="images/5.png" alt="5"></pre>', 'file-name', false],
    ['<pre>cp a b <img src="images/5.png" alt="5"></pre>', 'too-brief', false],
    ['<pre>cp a b <img src="callouts/co.png" alt="(2)"></pre>', 'too-brief', false, pics(icon, 'callouts/co.png')],
    [
      '<p><img src="p.png" alt="A"></p>',
      'too-brief',
      false,
      pics({ analysis: { kind: 'icon', sure: 0.9, text: 'A' } }),
    ],
    ['<p><img src="p.png" alt="A"></p>', 'too-brief', true, pics(photo())],
    [['<img src="1.png" alt="1">', '<img src="01.png" alt="1">'], 'same-words', false],
    ['<img src="a.png" alt="5f1c2a9e0b7d4e21">', 'file-name', true],
  ],
  'one cause, one finding': [
    ['<img src="IMG_2041.jpg" alt="IMG_2041.jpg">', 'poor-file-name', false],
    ['<img src="IMG_2041.jpg" alt="IMG_2041.jpg">', 'file-name', true],
    ['<img src="a_b_c.png" alt="images/a_b_c.png">', 'misspelt', false],
    [['<img src="a.png" alt="a_1_2.png">', '<img src="a.png" alt="a_1_3.png">'], 'mixed-words', false],
    ['<img src="a.png" alt="&quot; &quot;"><img src="b.png" alt="&quot; &quot;">', 'same-words', false],
    ['<img src="a.png" alt="&quot; &quot;"><img src="b.png" alt="&quot; &quot;">', 'too-brief', true],
    ['<img src="a.png" alt="image"><img src="b.png" alt="image">', 'same-words', false],
    ['<img src="spacer.gif" alt="spacer"><img src="line.gif" alt="spacer">', 'same-words', false],
  ],
  'titles are evidence only where they name the target': [
    [
      '<a href="/about#crew"><img src="a.png" alt="Our people"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'About Skerry Sound' },
    ],
    ['<a href="/toc"><img src="a.png" alt="Skerry Sound"></a>', 'target-unnamed', false, { targetTitle: 'Contents' }],
    [
      '<a href="/inhalt"><img src="a.png" alt="Skerry Sound"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Inhaltsverzeichnis', lang: 'de' },
    ],
    [
      '<a href="/x"><img src="a.png" alt="属性パネル"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Attributes', lang: 'ja' },
    ],
    ['<a href="/"><img src="a.png" alt="Logo"></a>', 'target-unnamed', true, { targetTitle: 'Skerry Sound' }],
    ['<a href="/"><img src="a.png" alt="Product Site"></a>', 'target-unnamed', true, { targetTitle: 'Skerry Sound' }],
    ['<a href="/"><img src="a.png" alt="Logotipo"></a>', 'target-unnamed', true, { targetTitle: 'Isla', lang: 'es' }],
    [
      '<a href="/"><img src="a.png" alt="Skerry Sound logo"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Skerry Sound' },
    ],
    ['<a href="/2"><img src="a.png" alt="Next"></a>', 'target-unnamed', false, { targetTitle: 'Chapter 2' }],
    [
      '<a href="/cruise"><img src="a.png" alt="Two birds on a cliff"></a>',
      'target-unnamed',
      true,
      { targetTitle: 'Book the trip' },
    ],
    [
      '<a href="/fahrt"><img src="a.png" alt="Two birds on a green cliff"></a>',
      'target-unnamed',
      false,
      { targetTitle: 'Die Überfahrt buchen und bezahlen, alle Preise' },
    ],
    ['<a href="/x"><img src="a.png" alt="click here"></a>', 'target-unnamed', true],
  ],
  'spelling knows what stands around': [
    [shows('The scikit menu', 'In scikit you choose the scikit menu.'), 'misspelt', false],
    ['<p><img src="p.png" alt="The harbor rokc"></p>', 'misspelt', true],
    ['<p><img src="aphp-quay.png" alt="aphp quay"></p>', 'misspelt', false],
    [shows('The file quay.svgz opened'), 'misspelt', false],
    [shows('The sconser boat', 'The sconser-loch ferry.'), 'misspelt', false],
    [shows('The Brannoch slip'), 'misspelt', false],
    [shows('The slip of the farry'), 'misspelt', true],
  ],
  'languages are recognised in sentences': [
    [shows('plot.scatter(x, y), plot.hist(z), plot.show()'), 'other-language', false],
    [shows('Brannoch Holm Skerry Inner Light Margaret Ann'), 'other-language', false],
    [shows('Die Fähre verlässt am Morgen den Hafen'), 'other-language', true],
    [shows('La barca sale del puerto por la mañana temprano'), 'other-language', true],
    [shows('The ferry leaves the quay in the morning'), 'other-language', false],
  ],
  'English that was left on pages of other languages': [
    [shows('[explanations of resolver solutions]'), 'other-language', true, { lang: 'es' }],
    [shows('[explanations of resolver solutions]'), 'word-list', false, { lang: 'es' }],
    [shows('[Minesweeper screen #5]'), 'misspelt', false, { lang: 'es' }],
    [shows('[package view, open the first group, then open the second group]'), 'stuffed', false, { lang: 'es' }],
    [shows('[vista de paquetes]'), 'other-language', false, { lang: 'es' }],
    [shows('Una pantalla con vista en barra'), 'other-language', false, { lang: 'es' }],
    [
      '<a href="/1"><img src="up.gif" alt="Subir"></a>',
      'target-unnamed',
      false,
      { lang: 'es', targetTitle: 'Paquetes' },
    ],
    [
      '<a href="/1"><img src="up.gif" alt="Niveau supérieur"></a>',
      'target-unnamed',
      false,
      { lang: 'fr', targetTitle: 'Paquets' },
    ],
    [shows('IMAGE MISSING'), 'placeholder', true],
    [shows('Bild fehlt'), 'placeholder', true, { lang: 'de' }],
    [shows('img-top'), 'file-name', true],
    [
      '<div><p><img src="p.png" alt="Tides"></p></div><div>[<a href="d.html">D</a>]</div>',
      'needs-long-description',
      false,
      { purpose: 'complex' },
    ],
    ['<button><img src="p.png" alt="Settings"></button><h2>Settings</h2>', 'echo', false],
    ['<p><img src="p.png"></p>', 'needs-long-description', false, { purpose: 'complex' }],
    [
      '<p><img src="p.png" alt="A screen"></p>',
      'needs-long-description',
      false,
      pics({
        width: 600,
        height: 400,
        analysis: {
          kind: 'map',
          sure: 0.3,
          text: 'the first line of a text on a screen\nthe second line of the same text there',
        },
      }),
    ],
  ],
  'what the second reading met': [
    [
      '<map name="m"><area href="#a" alt="Tickets"><area href="#b" alt="Café"></map><img usemap="#m" src="p.png" alt="Map of the quay">',
      'mixed-words',
      false,
    ],
    ['<a href="#c1"><img src="callouts/1.png" alt="1"></a>', 'poor-file-name', false],
    [shows('Marks on the wall', 'The <b>mark-sync</b> field.'), 'echo', false],
    ['<p><img src="p.png" alt="marks"> mark-sync is the field of a mark</p>', 'echo', false],
    ['<p><img src="figures/draw_axis3d.png" alt="./figures/draw_axis3d"></p>', 'file-name', true],
    ['<p><img src="figures/graphs04.png" alt="figures/graphs04"></p>', 'file-name', true],
    ['<p><img src="figures/tide.png" alt="Day and/or night"></p>', 'file-name', false],
    ['<p>Enter plotdf(f, x)</p><p><img src="p.png" alt="A field"></p>', 'needs-long-description', true],
    ['<p>Use QGraphicsView(scene)</p><p><img src="p.png" alt="A scene"></p>', 'needs-long-description', false],
  ],
  'the same words are the same': [
    [['<img src="a.png" alt="[ Help menu ]">', '<img src="a.png" alt="[Help Menu]">'], 'mixed-words', false],
    [['<img src="a.png" alt="Help menu.">', '<img src="a.png" alt="help-menu">'], 'mixed-words', false],
    [['<img src="a.png" alt="Help menu">', '<img src="a.png" alt="The menu for help">'], 'mixed-words', true],
    [
      '<img src="a.png" alt="Skerry Sound"><img src="b.png" alt="Skerry Sound">',
      'same-words',
      false,
      {
        pictures: {
          'a.png': { analysis: { kind: 'logo', sure: 0.9, similarGroup: 1 } },
          'b.png': { analysis: { kind: 'logo', sure: 0.9, similarGroup: 1 } },
        },
      },
    ],
    ['<img src="a.png" alt="Puffin"><img src="b.png" alt="Puffin">', 'same-words', true],
  ],
  'long descriptions in sentences are not stuffed': [
    [
      shows(
        'The first plot shows the height of the water over the time of the day. The second plot shows the height of the water at the quay. Both plots rise in the morning and fall after the noon of the day.',
      ),
      'stuffed',
      false,
    ],
    [shows('cheap ferry tickets, best ferry tickets, buy ferry tickets online, ferry tickets sale'), 'stuffed', true],
    [
      `${shows('Cold-Water Seals versus Cold-Water Seals in Warm Water')}<h2>Cold-Water Seals versus Cold-Water Seals in Warm Water</h2>`,
      'stuffed',
      false,
    ],
    [
      `<h2>Buy tickets</h2>${shows('Ferry tickets, cheap ferry tickets, island ferry tickets, ferry tickets deals')}`,
      'stuffed',
      true,
    ],
  ],
  'signs of listeners’ and searchers’ trouble stay found': [
    ['<img src="p.png">', 'no-alt', true],
    ['<a href="/fares"><img src="p.png" alt=""></a>', 'unnamed-control', true],
    [shows('Image of a seal on the slip'), 'needless-opening', true],
    [shows('&amp;lt;b&amp;gt;Seal&amp;lt;/b&amp;gt;'), 'markup-in-text', true],
    [shows('{{ picture.alt }}'), 'markup-in-text', true],
    [shows('{{ picture.alt }}'), 'formula-source', false],
    [shows('COME AND WATCH SLEEPING SEALS AT BRANNOCH HARBOUR'), 'shouting', true],
    [shows('DSC00412'), 'file-name', true],
    [shows('puffin-week-hero-2'), 'file-name', true],
    [
      shows(
        'A view of the quay at low tide, with nets, crates, two boats on the mud, and people who wait on the wall for the ferry',
      ),
      'overlong',
      true,
    ],
    [
      `<p><img src="p.png" alt="Sailings" aria-describedby="t"></p><p id="t">Four a day.</p>`,
      'needs-long-description',
      false,
      { purpose: 'complex' },
    ],
    [shows('Two seals on the slip'), 'too-brief', false],
    ['<img src="p.png" alt="Seals" role="presentation">', 'hidden-but-named', true],
  ],
  'bullets and signs': [
    ['<ul><li><img src="p.png" alt="-"> Open</ul>', 'too-brief', true, pics({ width: 9, height: 9 })],
    ['<p><img src="p.png" alt="Note"> Note</p>', 'decoration-with-text', true, pics(icon)],
    ['<p><img src="p.png" alt="Note"> The wind turns.</p>', 'decoration-with-text', false, pics(icon)],
    ['<p><img src="p.png" alt="bullet"> Open</p>', 'decoration-with-text', true],
  ],
};

const know = knowledge();
const all = Object.entries(CAUSES).flatMap(([cause, cases]) => cases.map((c) => [cause, c] as const));

test('there are at least 150', () => {
  expect(all.length).toBeGreaterThanOrEqual(150);
});

describe.each(Object.entries(CAUSES))('%s', (_, cases) => {
  test.each(cases.map(([html, rule, finds, more = {}]) => ({ html, rule, finds, more })))(
    '$html $rule: $finds',
    ({ html, rule, finds, more }) => {
      const found = auditCollection(exampleContexts({ html, ...more }), activeRules({}, know)).map((f) => f.rule);
      expect(found.includes(rule)).toBe(finds);
    },
  );
});
