import { z } from 'zod';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { ACT_IMAGE_BUTTON, ACT_LINK, F89, H24, H30, H36, SC_2_4_4, SC_4_1_2 } from './support/sources';
import { isBlank } from '../white-space';

export default defineRule({
  id: 'unnamed-control',
  title: 'Link or button without a name',
  group: 'presence',
  about:
    'A link, a button or an area of an image map contains only pictures, and none of them has alt text. Listeners hear “link”, perhaps with an address, and cannot know where it leads or what it does.',
  scope: 'appearance',
  gives: ['failed'],
  formats: MARKUP,
  sources: [SC_2_4_4, SC_4_1_2, F89, H24, H30, H36, ACT_LINK, ACT_IMAGE_BUTTON],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<a href="/"><img src="logo.svg" alt="Skerry Sound, front page"></a>' },
      { html: '<a href="/fares"><img src="ticket.svg" alt=""> Fares</a>' },
      { html: '<a href="/" aria-label="Front page"><img src="logo.svg" alt=""></a>' },
      { html: '<input type="image" src="go.png" alt="Search">' },
    ],
    fails: [
      {
        html: '<a href="/"><img src="logo.svg" alt=""></a>',
        message: 'The link around it has no name: a listener hears the address.',
      },
      {
        html: '<button><svg viewBox="0 0 9 9"><path d="M0 0h9"/></svg></button>',
        message: 'The button around it has no name: a listener hears only “button”.',
      },
      {
        html: '<input type="image" src="go.png">',
        message: 'This button has no name of its own: a listener hears “Submit”.',
      },
      {
        html: '<img src="map.png" alt="Map" usemap="#m"><map name="m"><area href="/quay" shape="rect" coords="0,0,9,9"></map>',
        message: 'This area of the map has no name: a listener hears the address.',
      },
    ],
  },
  check({ appearance: a }) {
    const c = a.context.control;
    if (!c || !c.first || c.hidden || c.text !== '' || !(isBlank(c.name) || c.defaultName)) return null;
    if (a.element === 'input')
      return {
        outcome: 'failed',
        message: c.defaultName
          ? { id: 'unnamed-control.default-name', values: { name: c.name } }
          : { id: 'unnamed-control.input' },
      };
    if (a.element === 'area') return { outcome: 'failed', message: { id: 'unnamed-control.area' } };
    return { outcome: 'failed', message: { id: `unnamed-control.${c.kind}` } };
  },
});
