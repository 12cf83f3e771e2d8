import { getDomain } from 'tldts';
import { z } from 'zod';
import type { Message } from '../model/message';
import type { Rights } from '../model/picture-analysis';
import { licenceName } from '../model/credit';
import { wordsOf } from '../words/graphemes';
import { otherHost } from './support/hosts';
import { EVERY_FORMAT } from './support/formats';
import { defineRule } from './support/rule';
import type { RuleContext } from '../model/rule-context';
import { type RuleFinding } from '../model/finding';
import { COMMON_PRACTICE, IPTC } from './support/sources';
import { clipped } from './support/words';

/** What announces a credit, in the languages that Detto knows; common practice. */
const CREDIT =
  /©|\(c\)|\bcc[- ](?:by|0)|\b(?:photo|foto|image|picture|bild|imagen|immagine|afbeelding|crédit|credit|quelle|source|fonte|fuente|bron|courtesy|fotograf\w*)s?\s*(?::|by\b|von\b|par\b|por\b|di\b|door\b|of\b)|\bcreative commons\b|\bcopyright\b/iu;

/** Licences under which nobody has to be named. */
const FREE = /publicdomain|\bcc0\b|public domain/i;

/** Pixels of a side below which it is an icon, a badge or a counter, whose credit stands on a page of its own, if anywhere. */
const SMALL = 100;

const isSmall = ({ picture, appearance: a }: RuleContext) =>
  [picture?.width, picture?.height, a.layout.width, a.layout.height].some((side) => side && side < SMALL);

const named = ({ creator, credit, copyright }: Rights): string[] =>
  [creator, credit, copyright].filter((n) => n !== null).map((n) => n.toLowerCase());

function isCredited({ appearance: a }: RuleContext, names: readonly string[]): boolean {
  const near = [a.context.caption, a.markup.title, a.context.before.slice(-200), a.context.after.slice(0, 300)].join(
    ' ',
  );
  if (CREDIT.test(near)) return true;
  const words = new Set(wordsOf(near.toLowerCase()));
  // A name counts where all of it is there, in any order.
  return names.some((name) => {
    const parts = wordsOf(name).filter((w) => !/^(?:©|copyright|\d+|all|rights|reserved)$/.test(w));
    return parts.length > 0 && parts.every((w) => words.has(w));
  });
}

/** What a picture's file says of its rights, as a finding. */
function claim({ creator, credit, copyright, licence }: Rights): Message {
  if (credit) return { id: 'uncredited.credit', values: { credit: clipped(credit, 50) } };
  if (copyright) return { id: 'uncredited.copyright', values: { copyright: clipped(copyright, 50) } };
  if (creator) return { id: 'uncredited.creator', values: { creator: clipped(creator, 50) } };
  return { id: 'uncredited.licence', values: { licence: clipped(licenceName(licence!), 50) } };
}

/** Of a picture whose file says nothing: it is shown from somebody else's host, and nobody is named. */
function borrowed(
  contexts: readonly RuleContext[],
  own: readonly string[],
): { context: RuleContext; finding: RuleFinding }[] {
  for (const context of contexts) {
    const { purpose, appearance: a } = context;
    if (a.state !== 'described' || purpose === 'functional' || purpose === 'decorative' || isSmall(context)) continue;
    const host = otherHost(context, own);
    if (host === null || isCredited(context, [host, getDomain(host) ?? host])) continue;
    const message = { id: 'uncredited.borrowed', values: { host } };
    return [{ context, finding: { outcome: 'advice', message } }];
  }
  return [];
}

export default defineRule({
  id: 'uncredited',
  title: 'Missing credit',
  group: 'files',
  about:
    'The file names its maker or a licence, or the picture is loaded from somebody else’s host, and there is no credit near it. Most licences ask for one. Makers who need no credit, such as your own organisation, can be named in the house style.',
  scope: 'picture',
  sees: true,
  gives: ['advice'],
  formats: EVERY_FORMAT,
  sources: [IPTC, COMMON_PRACTICE],
  parameters: z.object({
    /** Makers, agencies and hosts of this house, who need no credit. */
    own: z.array(z.string().trim().toLowerCase().min(1).max(200)).max(200).default([]).meta({
      label: 'Makers whose pictures need no credit',
      help: 'Pictures that they made, or that come from a host named here, need no credit. One a line.',
    }),
  }),
  examples: {
    passes: [
      {
        html: '<img src="a.png" alt="Help">',
        pictures: {
          'a.png': {
            width: 24,
            height: 24,
            analysis: { rights: { creator: 'Ann Rendall', credit: null, copyright: null, licence: null } },
          },
        },
      },
      {
        html: '<img src="https://pictures.example.org/a.jpg" alt="The ferry"><p>Picture by Example.org</p>',
        page: { path: 'https://skerry.example/' },
      },
      { html: '<img src="a.jpg" alt="The ferry">' },
      {
        html: '<figure><img src="a.jpg" alt="The ferry"><figcaption>The ferry. Photo: Ann Rendall</figcaption></figure>',
        pictures: {
          'a.jpg': { analysis: { rights: { creator: 'Ann Rendall', credit: null, copyright: null, licence: null } } },
        },
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: {
          'a.jpg': { analysis: { rights: { creator: 'Skerry Sound', credit: null, copyright: null, licence: null } } },
        },
        parameters: { own: ['skerry sound'] },
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: {
          'a.jpg': {
            analysis: {
              rights: {
                creator: null,
                credit: null,
                copyright: null,
                licence: 'https://creativecommons.org/publicdomain/zero/1.0/',
              },
            },
          },
        },
      },
    ],
    fails: [
      {
        html: '<img src="https://pictures.example.org/a.jpg" alt="The ferry">',
        page: { path: 'https://skerry.example/' },
        message: 'It is loaded from pictures.example.org, and there is no credit near it.',
      },
      {
        html: '<p>The ferry runs daily.</p><img src="a.jpg" alt="The ferry">',
        pictures: {
          'a.jpg': {
            analysis: {
              rights: { creator: 'Ann Rendall', credit: 'Rendall/Northern Pictures', copyright: null, licence: null },
            },
          },
        },
        message: 'Its file asks for the credit “Rendall/Northern Pictures”, and there is none near it.',
      },
      {
        html: '<img src="a.jpg" alt="The ferry">',
        pictures: {
          'a.jpg': {
            analysis: {
              rights: {
                creator: null,
                credit: null,
                copyright: null,
                licence: 'https://creativecommons.org/licenses/by-sa/4.0/',
              },
            },
          },
        },
        message: 'Its file has the licence “CC BY-SA 4.0”, and there is no credit near it.',
      },
    ],
  },
  check(contexts, { own }) {
    const rights = contexts[0]!.picture?.analysis?.rights;
    if (!rights) return borrowed(contexts, own);
    if (rights.licence && FREE.test(rights.licence)) return [];
    if (named(rights).some((name) => own.some((o) => name.includes(o)))) return [];
    const bare = contexts.find(
      (s) => s.appearance.state === 'described' && !isSmall(s) && !isCredited(s, named(rights)),
    );
    if (!bare) return [];
    return [{ context: bare, finding: { outcome: 'advice' as const, message: claim(rights) } }];
  },
});
