import { z } from 'zod';
import type { Message } from '../model/message';
import { isCode, isDeviceName } from './support/file-names';
import { normalise } from '../words/graphemes';
import { clipped, heardWords } from './support/words';
import { fileNameOf } from '../picture/file-name';
import { proposedStem } from './support/proposed-file-name';
import { isCallOut } from './support/call-out';
import { NAMED_FILES } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE, SEARCH_GUIDANCE } from './support/sources';

/** Id of the message that says why a name says nothing; null where it says something. */
function reasonFor(stem: string): string | null {
  if (isDeviceName(stem)) return 'poor-file-name.device';
  if (isCode(stem)) return 'poor-file-name.code';
  if (/^[\d_. -]+$/.test(stem)) return 'poor-file-name.number';
  return /^(?:image|img|photo|picture|pic|untitled|unnamed|file|download|scan|bild|foto|imagen|imagem|immagine|afbeelding)[-_ ]?\d*$/i.test(
    stem,
  )
    ? 'poor-file-name.nothing'
    : null;
}

export default defineRule({
  id: 'poor-file-name',
  title: 'Meaningless file name',
  group: 'files',
  about:
    'The file still has the name that a camera or a program gave it. Search engines read file names, and so do people who save the picture. Once the alt text is right, a few of its words in lower case, joined by hyphens, make a good name.',
  scope: 'picture',
  gives: ['advice'],
  formats: NAMED_FILES,
  sources: [SEARCH_GUIDANCE, COMMON_PRACTICE],
  notForFormulas: true,
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<img src="two-puffins.jpg" alt="Two puffins">' },
      { html: '<img src="IMG_2041.jpg" alt="">' },
      { html: '<img src="hero-1200x600.jpg" alt="The ferry at the quay">' },
    ],
    fails: [
      {
        html: '<img src="/i/IMG_2041.jpg" alt="Two puffins on a grassy cliff">',
        message:
          '“IMG_2041.jpg” is a camera’s or a program’s name for it; “two-puffins-grassy-cliff.jpg” would say what it shows.',
      },
      {
        html: '<img src="IMG_2041.jpg" alt="cheap ferry tickets, cheap ferry, ferry tickets cheap, best ferry">',
        message: '“IMG_2041.jpg” is a camera’s or a program’s name for it.',
      },
      {
        html: '<img src="00231.jpg" alt="Ferry">',
        message: '“00231.jpg” is a number.',
      },
    ],
  },
  check(contexts) {
    const said = contexts.find((s) => heardWords(s.appearance) !== null && s.purpose !== 'decorative');
    const src = said?.picture?.src ?? said?.appearance.markup.src;
    if (!said || !src || src.startsWith('data:')) return [];
    // The file of a call-out is called as what it shows.
    if (isCallOut(normalise(heardWords(said.appearance)!), said)) return [];
    const file = fileNameOf(src);
    const [, stem, extension] = /^(.*?)(\.[a-z0-9]{2,5})?$/i.exec(file)!;
    const id = reasonFor(stem!);
    if (!id) return [];
    const better = proposedStem(said);
    const values = { file: clipped(file) };
    const message: Message = better
      ? {
          id: 'poor-file-name.proposal',
          values: {
            message: { id, values },
            proposal: clipped(better + (extension ?? '').toLowerCase()),
          },
        }
      : { id: 'poor-file-name.alone', values: { message: { id, values } } };
    return [{ context: said, finding: { outcome: 'advice' as const, message } }];
  },
});
