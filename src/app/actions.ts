'use server';

import path from 'node:path';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { addCollection } from '@/server/collections/collections';
import { config } from '@/server/config';
import { FolderTree } from '@/server/survey/folder-tree';
import { parseAddress } from '@/server/survey/site-source';
import { startSurvey } from '@/server/survey/surveys';

const MAX_PAGES = 200;
const MAX_DEPTH = 5;
const Where = z.string().trim().min(1, 'Say where the pages are.').max(2000);

export interface Answer {
  error: string | null;
}

/** Adds a site by its address and begins to survey it. */
export async function surveySite(_: Answer, form: FormData): Promise<Answer> {
  let id: string;
  try {
    const url = parseAddress(Where.parse(form.get('where')));
    const added = await addCollection({
      name: url.host,
      kind: 'site',
      root: url.href,
      maxPages: MAX_PAGES,
      maxDepth: MAX_DEPTH,
    });
    id = added.id;
  } catch (error) {
    return { error: sentence(error) };
  }
  await startSurvey(id);
  redirect(`/c/${id}`);
}

/** Adds a folder of this machine, where the person who runs Detto lets people do so. */
export async function surveyFolder(_: Answer, form: FormData): Promise<Answer> {
  let id: string;
  try {
    if (!config().localFolders) throw new Error('Folders can be surveyed only where Detto runs on your own computer.');
    const folder = path.resolve(Where.parse(form.get('where')));
    await FolderTree.open(folder);
    const added = await addCollection({
      name: path.basename(folder),
      kind: 'folder',
      root: folder,
      maxPages: 100_000,
      maxDepth: MAX_DEPTH,
    });
    id = added.id;
  } catch (error) {
    return { error: sentence(error) };
  }
  await startSurvey(id);
  redirect(`/c/${id}`);
}

export async function surveyAgain(form: FormData): Promise<void> {
  const id = z.string().parse(form.get('collection'));
  await startSurvey(id);
  redirect(`/c/${id}`);
}

function sentence(error: unknown): string {
  if (error instanceof z.ZodError) return error.issues[0]!.message;
  return error instanceof Error ? error.message : String(error);
}
