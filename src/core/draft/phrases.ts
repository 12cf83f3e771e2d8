import type { Kind } from '../model/picture-analysis';

/** What a draft asks for in its gaps, and what it calls kinds of pictures, in one language. */
interface Phrases {
  gaps: Record<GapQuestion, string>;
  kinds: Partial<Record<Kind, string>>;
  /** Number words from two to ten, parted by spaces. */
  numbers: string;
}

export type GapQuestion = 'shows' | 'says' | 'does' | 'leads' | 'differs' | 'more' | 'many';

const PHRASES: Readonly<Record<string, Phrases>> = {
  en: {
    gaps: {
      shows: 'what does it show?',
      says: 'what does it say?',
      does: 'what does it do?',
      leads: 'where does it lead?',
      differs: 'what is different here?',
      more: 'what else can be seen?',
      many: 'how many?',
    },
    kinds: { chart: 'Chart', diagram: 'Diagram', map: 'Map', screenshot: 'Screenshot' },
    numbers: 'two three four five six seven eight nine ten',
  },
  de: {
    gaps: {
      shows: 'was ist zu sehen?',
      says: 'was sagt es aus?',
      does: 'was bewirkt es?',
      leads: 'wohin führt es?',
      differs: 'was ist hier anders?',
      more: 'was ist noch zu sehen?',
      many: 'wie viele?',
    },
    kinds: { chart: 'Diagramm', diagram: 'Schaubild', map: 'Karte', screenshot: 'Bildschirmfoto' },
    numbers: 'zwei drei vier fünf sechs sieben acht neun zehn',
  },
  fr: {
    gaps: {
      shows: 'que voit-on ?',
      says: 'que montre-t-il ?',
      does: 'que fait-il ?',
      leads: 'où mène-t-il ?',
      differs: 'qu’est-ce qui diffère ici ?',
      more: 'que voit-on d’autre ?',
      many: 'combien ?',
    },
    kinds: { chart: 'Graphique', diagram: 'Schéma', map: 'Carte', screenshot: 'Capture d’écran' },
    numbers: 'deux trois quatre cinq six sept huit neuf dix',
  },
  es: {
    gaps: {
      shows: '¿qué se ve?',
      says: '¿qué dice?',
      does: '¿qué hace?',
      leads: '¿adónde lleva?',
      differs: '¿qué cambia aquí?',
      more: '¿qué más se ve?',
      many: '¿cuántos?',
    },
    kinds: { chart: 'Gráfico', diagram: 'Esquema', map: 'Mapa', screenshot: 'Captura de pantalla' },
    numbers: 'dos tres cuatro cinco seis siete ocho nueve diez',
  },
  it: {
    gaps: {
      shows: 'che cosa si vede?',
      says: 'che cosa dice?',
      does: 'che cosa fa?',
      leads: 'dove porta?',
      differs: 'che cosa cambia qui?',
      more: 'che cos’altro si vede?',
      many: 'quanti?',
    },
    kinds: { chart: 'Grafico', diagram: 'Schema', map: 'Mappa', screenshot: 'Schermata' },
    numbers: 'due tre quattro cinque sei sette otto nove dieci',
  },
  nl: {
    gaps: {
      shows: 'wat is te zien?',
      says: 'wat zegt het?',
      does: 'wat doet het?',
      leads: 'waar leidt het heen?',
      differs: 'wat is hier anders?',
      more: 'wat is nog meer te zien?',
      many: 'hoeveel?',
    },
    kinds: { chart: 'Grafiek', diagram: 'Schema', map: 'Kaart', screenshot: 'Schermafbeelding' },
    numbers: 'twee drie vier vijf zes zeven acht negen tien',
  },
  pt: {
    gaps: {
      shows: 'o que se vê?',
      says: 'o que diz?',
      does: 'o que faz?',
      leads: 'aonde leva?',
      differs: 'o que muda aqui?',
      more: 'o que mais se vê?',
      many: 'quantos?',
    },
    kinds: { chart: 'Gráfico', diagram: 'Esquema', map: 'Mapa', screenshot: 'Captura de ecrã' },
    numbers: 'dois duas três quatro cinco seis sete oito nove dez',
  },
};

/** Those of a language, by its tag (BCP 47); English for one that has none, as the interface is in English. */
export const phrasesFor = (language: string | null): Phrases =>
  PHRASES[language?.toLowerCase().split('-')[0] ?? ''] ?? PHRASES['en']!;

/** A gap that asks something, in the language of the draft. */
export const gap = (question: GapQuestion, language: string | null): string =>
  `‹${phrasesFor(language).gaps[question]}›`;
