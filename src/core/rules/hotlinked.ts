import { z } from 'zod';
import { otherHost } from './support/hosts';
import { WEB } from './support/formats';
import { defineRule } from './support/rule';
import { COMMON_PRACTICE } from './support/sources';

export default defineRule({
  id: 'hotlinked',
  title: 'Hotlinked image',
  group: 'files',
  about:
    'The picture is loaded straight from somebody else’s host. It can change or disappear at any time, its owner pays for the traffic, and there may be no permission. Your own other hosts, such as a content delivery network, can be named in the house style.',
  scope: 'appearance',
  gives: ['advice'],
  formats: WEB,
  sources: [COMMON_PRACTICE],
  parameters: z.object({
    /** Further hosts of this house. */
    hosts: z.array(z.string().trim().toLowerCase().min(1).max(253)).max(200).default([]).meta({
      label: 'Further own hosts',
      help: 'Such as a delivery network; what is below them counts too. One a line.',
    }),
  }),
  examples: {
    passes: [
      { html: '<img src="/a.jpg" alt="The ferry">', page: { path: 'https://skerry.example/' } },
      {
        html: '<img src="https://img.skerry.example/a.jpg" alt="The ferry">',
        page: { path: 'https://www.skerry.example/' },
      },
      {
        html: '<img src="https://cdn.example.net/a.jpg" alt="The ferry">',
        page: { path: 'https://skerry.example/' },
        parameters: { hosts: ['cdn.example.net'] },
      },
    ],
    fails: [
      {
        html: '<img src="https://pictures.example.org/a.jpg" alt="The ferry">',
        page: { path: 'https://skerry.example/' },
        message: 'Loaded from pictures.example.org, which is not one of this collection’s hosts.',
      },
      {
        html: '<img src="//pictures.example.org/a.jpg" alt="">',
        page: { path: 'https://skerry.example/' },
        message: 'Loaded from pictures.example.org, which is not one of this collection’s hosts.',
      },
    ],
  },
  check(context, { hosts }) {
    const host = otherHost(context, hosts);
    if (host === null) return null;
    return { outcome: 'advice', message: { id: 'hotlinked.host', values: { host } } };
  },
});
