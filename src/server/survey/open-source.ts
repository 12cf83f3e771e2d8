import { Access } from '@/contract/access';
import { config } from '../config';
import type { Collection } from '../catalogue/collections';
import { limits } from '../limits/limits';
import { FileSource } from './file-source';
import { openTree } from './open-tree';
import { unseal } from '../secrets/seal';
import { BrowserRenderer, type Renderer } from './browser/browser';
import { accessHeaders, userAgent } from './request-headers';
import { SiteSource } from './site-source';
import type { Source } from './source';
import { ZipTree } from './zip-tree';

/** @throws Error in words when the collection cannot be reached at all */
export async function openSource(
  c: Pick<Collection, 'kind' | 'root' | 'scope' | 'access'>,
  signal?: AbortSignal,
): Promise<Source> {
  switch (c.kind) {
    case 'site':
      return new SiteSource(c.root, {
        allowed: config().allowedHosts,
        contact: config().contact,
        access: await accessOf(c),
        scope: c.scope,
        signal,
        turns: await limits(),
      });
    case 'zip':
      return new FileSource(await ZipTree.open(c.root));
    case 'folder':
    case 'upload':
      return new FileSource(await openTree(c.root));
  }
}

/** The browser for the pages of a collection that need one; null where pages are files. */
export async function openRenderer(c: Pick<Collection, 'kind' | 'root' | 'access'>): Promise<Renderer | null> {
  if (c.kind !== 'site') return null;
  const { chromium, allowedHosts, contact } = config();
  const access = { origin: new URL(c.root).origin, headers: accessHeaders(await accessOf(c)) };
  return new BrowserRenderer({ executable: chromium, allowed: allowedHosts, userAgent: userAgent(contact), access });
}

async function accessOf(c: Pick<Collection, 'access'>): Promise<Access | null> {
  return c.access === null ? null : Access.parse(JSON.parse(await unseal(c.access)));
}
