import { backgroundsOf, importsOf } from './backgrounds';
import { parseHtml } from './parse';
import { attr, elementsOf } from './tree';

function found(html: string, css = ''): Record<string, string[]> {
  const { document } = parseHtml(`<!doctype html><html><body>${html}`);
  const map = backgroundsOf(elementsOf(document), css ? [{ address: '/s.css', css }] : []);
  return Object.fromEntries([...map].map(([e, own]) => [attr(e, 'id') ?? e.tagName, own.map((b) => b.src)]));
}

test('of style attributes, style elements and linked sheets', () => {
  const html =
    '<p id=a style="background: #fff url(a.png) no-repeat"><b id=b class=x>t</b><i id=c>t</i><style>#c{background-image:url("c.png")}</style>';
  expect(found(html, '.x{background:url(b.png)}')).toEqual({ a: ['a.png'], b: ['b.png'], c: ['c.png'] });
});

// CSS Cascading and Inheritance 4, 6.1, and Selectors 4, 17: importance, then specificity, then order.
test('the cascade decides between rules', () => {
  expect(found('<p id=a class=x>t', 'p.x{background:url(1.png)} p{background:url(2.png)}')).toEqual({ a: ['1.png'] });
  expect(found('<p id=a class=x>t', 'p{background:url(1.png)} p{background:url(2.png)}')).toEqual({ a: ['2.png'] });
  expect(found('<p id=a>t', 'p{background:url(1.png)!important} #a{background:url(2.png)}')).toEqual({ a: ['1.png'] });
  expect(found('<p id=a style="background:none">t', '#a{background:url(2.png)}')).toEqual({});
  expect(found('<p id=a>t', 'p{background:url(1.png)} p{background:#fff}')).toEqual({});
});

test('several layers, pseudo-elements, media, and what nobody sees at rest', () => {
  const css = `#a{background-image:url(1.png),linear-gradient(red,blue),url(2.png)} #b::before{content:"";background:url(3.png)}
    @media (min-width:600px){#c{background:url(4.png)}} @media print{#d{background:url(5.png)}} #d:hover{background:url(6.png)}`;
  expect(found('<p id=a>t<p id=b>t<p id=c>t<p id=d>t', css)).toEqual({
    a: ['1.png', '2.png'],
    b: ['3.png'],
    c: ['4.png'],
  });
});

test('sheets that are broken, or use what the library does not know, leave the rest', () =>
  expect(found('<p id=a>t', '}}} :unknown(x){background:url(0.png)} p:not(.x){background:url(1.png)} #a{')).toEqual({
    a: ['1.png'],
  }));

test('imports stand before all rules, those for print left out (CSS Cascading and Inheritance 4, 2)', () => {
  const css = `@charset "utf-8"; /* @import "no.css"; */ @import "a.css"; @import url(b.css) screen;
    @import url("c.css") print; @import url('d.css') layer(base); body{color:red} @import "late.css";`;
  expect(importsOf(css)).toEqual(['a.css', 'b.css', 'd.css']);
  expect(importsOf('@import "only.css"')).toEqual(['only.css']);
  expect(importsOf('p{background:url(a.png)}')).toEqual([]);
});
