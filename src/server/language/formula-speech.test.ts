import type { FormulaSpeech } from '@/core/rules/support/rule';
import { openFormulaSpeech } from './formula-speech';

let formulas: FormulaSpeech;
beforeAll(async () => {
  formulas = await openFormulaSpeech(['en', 'de', 'fr', 'es', 'it']);
});

/** Sentences of the ClearSpeak rules for English (ETS and Benetech, 2014) and of the engine’s tests of them; from memory. */
test.each([
  ['x^2', 'x squared'],
  ['x^3', 'x cubed'],
  ['f(x)', 'f of x'],
  [String.raw`\sqrt{2}`, 'the square root of 2'],
  [String.raw`\frac{1}{2}`, 'one half'],
  [String.raw`\frac{x}{y}`, 'x over y'],
  [String.raw`\sin\theta`, 'sine theta'],
  [String.raw`a \leq b`, 'a is less than or equal to b'],
  [String.raw`\sum_{k=0}^{n} k`, 'the sum from k equals 0 to n of k'],
  [String.raw`x \in A`, 'x is a member of A'],
  ['F_i', 'F sub i'],
])('%s is said “%s”', (tex, said) => {
  expect(formulas.speech(tex, 'en-GB')).toBe(said);
});

test('names of several letters are words, and what is cut out of an alignment is still a formula', () => {
  expect(formulas.speech(String.raw`expected &= \frac{cWnd}{BaseRTT}`, 'en')).toBe('expected equals cWnd over BaseRTT');
  expect(formulas.speech(String.raw`h_\mathrm{b}`, 'en')).toBe('h sub b');
});

test('a formula is said in the language of its page, and in no other where nobody speaks formulas in it', () => {
  expect(formulas.speech('x^2+1', 'de')).toBe('x Quadrat plus 1');
  expect(formulas.speech('x^2+1', 'fr')).toMatch(/^x au carré plus 1$/);
  expect(formulas.speech('x^2+1', 'es')).toMatch(/cuadrado más 1$/);
  expect(formulas.speech('x^2+1', 'it')).toMatch(/quadrato più 1$/);
  expect(formulas.speech('x^2+1', 'nl')).toBeNull();
});

/** The first example of MathML 3, 2.1.3, which MathML Core’s elements are the same for. */
test('MathML has the elements of the standard’s own example', () => {
  const mathml = formulas.mathml('x^2+4x+4=0')!;
  const elements = mathml.replace(/ [a-z]+="[^"]*"/g, '').replace(/<\/?(?:math|semantics|mrow|annotation[^>]*)>/g, '');
  expect(elements).toContain(
    '<msup><mi>x</mi><mn>2</mn></msup><mo>+</mo><mn>4</mn><mi>x</mi><mo>+</mo><mn>4</mn><mo>=</mo><mn>0</mn>',
  );
});

test('what is no formula, or an attack, gives nothing and does not hang', () => {
  expect(formulas.speech(String.raw`\nosuchcommand{x}`, 'en')).toBeNull();
  expect(formulas.mathml(String.raw`\def\a{\a\a}\a`)).toBeNull();
  expect(formulas.mathml(String.raw`\href{javascript:alert(1)}{x}`) ?? '').not.toContain('javascript:');
});
