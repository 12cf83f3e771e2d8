import { UserError } from '@/core/model/user-error';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { Access } from '@/contract/access';
import { Scope } from '@/contract/scope';
import { config } from '../config';
import { database } from '../db/database';
import { collection, page } from '../db/schema';
import { openTree } from '../survey/open-tree';
import { typedAddress } from './typed-address';
import { startSurvey } from '../survey/surveys';
import { seal } from '../secrets/seal';
import { addressesIn } from '@/core/lists/addresses';
import { insertCollection, type Collection } from '../catalogue/collections';

/** What a person asks for when they put a site or a folder on the shelf. */
export const Wanted = z.object({
  /** `list` takes addresses from any text or table; `page` one page and nothing it leads to. */
  kind: z.enum(['site', 'page', 'list', 'folder']),
  where: z.string().trim().min(1, 'Say where the pages are.').max(2_000_000),
  name: z.string().trim().min(1).max(120).optional(),
  maxPages: z.coerce.number().int().min(1).max(100_000).default(200),
  maxDepth: z.coerce.number().int().min(0).max(100).default(5),
  scope: Scope.partial().default({}),
  /** For a site that is not open to everybody. */
  access: Access.optional(),
});
export type Wanted = z.input<typeof Wanted>;

/**
 * Puts a site, or a folder of this machine, on the shelf and begins to survey it.
 *
 * @throws Error in words when there is no such place, or it may not be surveyed
 */
export async function addCollection(asked: unknown): Promise<Collection> {
  const { kind, where, name, maxPages, maxDepth, scope, access: given } = Wanted.parse(asked);
  const access = given ? await seal(JSON.stringify(given)) : null;
  let added: Collection;
  if (kind === 'site') {
    const url = await typedAddress(where);
    added = await insertCollection({ name: name ?? url.host, kind, root: url.href, maxPages, maxDepth, scope, access });
  } else if (kind === 'page' || kind === 'list') {
    const addresses = kind === 'page' ? [(await typedAddress(where)).href] : addressesIn(where);
    const [root, ...more] = addresses;
    if (!root) throw new UserError('There is no web address in this list. Each should begin with https:// or http://.');
    added = await insertCollection({
      name: name ?? (kind === 'page' ? root.replace(/^https?:\/\//, '') : new URL(root).host),
      kind: 'site',
      root,
      maxPages: addresses.length,
      maxDepth: 0,
      scope: { ...scope, addresses: more, follow: false },
      access,
    });
  } else {
    const root = await folderAt(where);
    added = await insertCollection({ name: name ?? folderName(root), kind, root, maxPages: 100_000, maxDepth });
  }
  await startSurvey(added.id);
  return added;
}

/** @throws UserError when there is no such folder, or folders may not be surveyed here */
async function folderAt(where: string): Promise<string> {
  if (!config().localFolders)
    throw new UserError('Folders can be surveyed only where Detto runs on your own computer.');
  if (!path.isAbsolute(where)) throw new UserError('Give the whole path of the folder, from the root.');
  const root = path.resolve(where);
  await (await openTree(root)).close?.();
  return root;
}

/**
 * Corrects the address that a collection is surveyed from and starts a survey, as long as nothing was found there.
 *
 * @throws UserError when pages are known already, it has no one address, or there is nothing at the new one
 */
export async function correctAddress(c: Collection, typed: string): Promise<void> {
  const where = Wanted.shape.where.parse(typed);
  const db = await database();
  const [known] = await db.select({ id: page.id }).from(page).where(eq(page.collectionId, c.id)).limit(1);
  if (known)
    throw new UserError(
      'Pages of this collection are known already. Add the other address as a collection of its own.',
    );
  const isSite = c.kind === 'site' && Scope.parse(c.scope).follow;
  if (!isSite && c.kind !== 'folder')
    throw new UserError('This collection has no one address that could be corrected.');
  const root = isSite ? (await typedAddress(where)).href : await folderAt(where);
  const nameOf = (at: string) => (isSite ? new URL(at).host : folderName(at));
  const name = c.name === nameOf(c.root) ? nameOf(root) : c.name;
  await db.update(collection).set({ root, name }).where(eq(collection.id, c.id));
  await startSurvey(c.id);
}

const Limits = Wanted.pick({ scope: true, access: true }).extend({
  maxPages: Wanted.shape.maxPages.removeDefault().optional(),
  maxDepth: Wanted.shape.maxDepth.removeDefault().optional(),
  /** Nothing more is reported to the site. */
  forgetAccess: z.boolean().default(false),
});

/**
 * Changes what the next survey of a site goes by; where it begins stays, and so do its pages and words.
 *
 * @throws Error in words when it is no site, or a bound is none
 */
export async function changeLimits(c: Collection, asked: unknown): Promise<void> {
  if (c.kind !== 'site') throw new UserError('Only the survey of a site has bounds.');
  const { scope, access, forgetAccess, maxPages, maxDepth } = Limits.parse(asked);
  const { addresses, follow } = Scope.parse(c.scope);
  const sealed = access ? await seal(JSON.stringify(access)) : forgetAccess ? null : c.access;
  const bounds = follow ? { maxPages: maxPages ?? c.maxPages, maxDepth: maxDepth ?? c.maxDepth } : {};
  const db = await database();
  await db
    .update(collection)
    .set({ ...bounds, scope: { ...scope, addresses, follow }, access: sealed })
    .where(eq(collection.id, c.id));
}

/** Folders that are called the same everywhere are distinguished by the one they are in. */
const COMMON_FOLDER =
  /^(?:[a-z]{2}(?:-[a-z]{2})?|html?|www|public(?:_html)?|dist|build|site|_site|docs?|out|output|web)$/i;

function folderName(root: string): string {
  const base = path.basename(root);
  return COMMON_FOLDER.test(base) ? path.join(path.basename(path.dirname(root)), base) : base;
}
