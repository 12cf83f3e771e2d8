import { z } from 'zod';
import { defineRule } from './support/rule';
import { PDF1, PDF4, PDF_UA } from './support/sources';

export default defineRule({
  id: 'figure-untagged',
  title: 'Picture outside the tags',
  group: 'presence',
  about:
    'A screen reader reads the tags of a PDF and nothing else. A picture that is neither tagged as a figure nor marked as an artifact is not there for it, and no alt text can be attached. Tag it in the program that the PDF was made with, and export it again.',
  scope: 'appearance',
  gives: ['failed'],
  formats: ['pdf'],
  sources: [PDF_UA, PDF1, PDF4],
  parameters: z.object({}),
  examples: {
    passes: [
      {
        html: 'Figure, Alt “The harbour from the sea”',
        format: 'pdf',
        objects: [{ element: 'figure', alt: 'The harbour from the sea' }],
      },
      { html: 'picture marked as an artifact', format: 'pdf', objects: [{ element: 'picture', isDecorative: true }] },
    ],
    fails: [
      {
        html: 'picture painted on page 2, not tagged',
        format: 'pdf',
        objects: [{ element: 'picture', place: 'page 2 > picture 1' }],
        message: 'It is not tagged: no screen reader finds it, and no alt text can be written.',
      },
      {
        html: 'picture of an untagged PDF',
        format: 'pdf',
        objects: [{ element: 'picture', place: 'page 1 > picture 1' }],
        message: 'It is not tagged: no screen reader finds it, and no alt text can be written.',
      },
    ],
  },
  check({ appearance: a }) {
    if (a.element !== 'picture' || a.state !== 'missing') return null;
    return { outcome: 'failed', message: { id: 'figure-untagged.outside' } };
  },
});
