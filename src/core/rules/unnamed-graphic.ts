import { z } from 'zod';
import type { AppearanceElement } from '../model/appearance';
import { MARKUP } from './support/formats';
import { defineRule } from './support/rule';
import { ACT_IMG_ROLE, ACT_OBJECT, ACT_SVG, H53, SC_1_1_1 } from './support/sources';
import { isBlank } from '../white-space';

const GRAPHICS: readonly AppearanceElement[] = ['svg', 'canvas', 'object', 'embed', 'role-img'];

export default defineRule({
  id: 'unnamed-graphic',
  title: 'Graphic without a name',
  group: 'presence',
  about:
    'An inline drawing, an object or an element with the role of an image has no accessible name. With that role, listeners hear that there is an image and nothing more. Without any role, nobody can tell whether it is meant to be heard: name it, or hide it with aria-hidden.',
  scope: 'appearance',
  gives: ['failed', 'cantTell'],
  formats: MARKUP,
  subsumes: ['misplaced-alt', 'needs-long-description'],
  sources: [SC_1_1_1, ACT_SVG, ACT_OBJECT, ACT_IMG_ROLE, H53],
  parameters: z.object({}),
  examples: {
    passes: [
      { html: '<svg role="img" aria-label="High tide at noon"><path d="M0 0h9"/></svg>' },
      { html: '<svg role="img"><title>High tide at noon</title><path d="M0 0h9"/></svg>' },
      { html: '<svg aria-hidden="true"><path d="M0 0h9"/></svg>' },
      { html: '<a href="/fares"><svg><path d="M0 0h9"/></svg> Fares</a>' },
      { html: '<canvas>Two ferries cross the sound</canvas>' },
    ],
    fails: [
      {
        html: '<svg role="img"><path d="M0 0h9"/></svg>',
        message: 'An inline drawing with the role of an image has no name: a listener hears “image” and nothing more.',
      },
      {
        html: '<div role="img" style="background:url(sea.jpg)"></div>',
        message: 'An element with the role of an image has no name: a listener hears “image” and nothing more.',
      },
      {
        html: '<object data="tides.svg" type="image/svg+xml"></object>',
        message: 'An object that shows a picture has no name.',
      },
      {
        html: '<p>Tides</p><svg><path d="M0 0h9"/></svg>',
        message: 'An inline drawing has neither a role nor a name: name it, or hide it from those who listen.',
      },
      {
        html: '<canvas width="300" height="200"></canvas>',
        message: 'A canvas has neither a role nor a name: name it, or hide it from those who listen.',
      },
    ],
  },
  check({ appearance: a }) {
    if (!GRAPHICS.includes(a.element) || a.accessible.hidden || a.state !== 'missing' || !isBlank(a.accessible.name))
      return null;
    if (a.markup.ownRole === 'none') return null;
    // Of a control that has no name, another rule tells; of one that has, nobody misses its drawing.
    if (
      a.context.control &&
      (a.context.control.text !== '' || isBlank(a.context.control.name) || a.markup.ownRole === null)
    )
      return null;
    if (a.markup.ownRole === 'image' || a.element === 'role-img')
      return {
        outcome: 'failed',
        message: { id: 'unnamed-graphic.role', values: { element: a.element } },
      };
    if (a.element === 'object' || a.element === 'embed')
      return { outcome: 'failed', message: { id: 'unnamed-graphic.object', values: { element: a.element } } };
    return {
      outcome: 'cantTell',
      message: { id: 'unnamed-graphic.no-role', values: { element: a.element } },
    };
  },
});
