import { getDomain } from 'tldts';
import { z } from 'zod';
import { defineRule } from './rule';
import { COMMON_PRACTICE } from './sources';

const web = (address: string | null | undefined, base?: string): URL | null => {
  try {
    const url = new URL(address ?? '', base);
    return /^https?:$/.test(url.protocol) ? url : null;
  } catch {
    return null;
  }
};

/** What one registers: `img.skerry.example` and `skerry.example` are one owner's; an IP address is its own. */
const owner = (host: string) => getDomain(host) ?? host;

export default defineRule({
  id: 'borrowed-host',
  title: 'From somebody else’s server',
  group: 'files',
  about:
    'The picture is loaded straight from another owner’s host. It may be gone or changed tomorrow, its owner pays for the traffic, and nobody may have asked. Hosts of your own, such as a delivery network, can be named in the house style.',
  scope: 'appearance',
  gives: ['advice'],
  sources: [COMMON_PRACTICE],
  parameters: z.object({
    /** Further hosts of this house. */
    hosts: z.array(z.string().trim().toLowerCase().min(1).max(253)).max(200).default([]),
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
  check({ appearance: a, page, picture }, { hosts }) {
    const home = web(page.path);
    const shown = web(a.src, home?.href ?? 'http://files.invalid') ?? web(picture?.src);
    const own = home?.hostname ?? 'files.invalid';
    if (!shown || owner(shown.hostname) === owner(own)) return null;
    if (hosts.some((h) => shown.hostname === h || shown.hostname.endsWith(`.${h}`))) return null;
    return {
      outcome: 'advice',
      message: `Loaded from ${shown.hostname}, which is not one of this collection’s hosts.`,
    };
  },
});
