'use server';

import { redirect } from 'next/navigation';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { PURPOSES } from '@/core/appearance';
import { beginCollection } from '@/server/collections/begin';
import { collectionById, removeCollection } from '@/server/collections/collections';
import { inWords } from '@/server/http/answers';
import type { DeskPicture } from '@/contract/desk';
import { Target } from '@/contract/target';
import { deskPicture } from '@/server/pictures/desk';
import { resumeSurvey, startSurvey, stopSurvey } from '@/server/survey/surveys';
import { placesOf } from '@/server/wordings/targets';
import { draftWords, keepWords, refuseDrafts, settlePurpose, takeDrafts, undoAct } from '@/server/wordings/wordings';

const Id = z.number().int().positive();
const Ids = z.array(Id).min(1).max(100_000);
const Collection = z.string().min(1).max(80);
const Act = z.string().min(8).max(80);

export interface Answer {
  error: string | null;
}

/** Puts a site or a folder on the shelf, surveys it, and shows that. */
export async function survey(_: Answer, form: FormData): Promise<Answer> {
  let id: string;
  try {
    id = (await beginCollection(askedIn(form))).id;
  } catch (error) {
    return { error: inWords(error) };
  }
  redirect(`/c/${id}/survey`);
}

/** What the form on the shelf asks for; fields that were left empty are not there. */
function askedIn(form: FormData): unknown {
  const given = Object.fromEntries([...form].filter(([, value]) => value !== ''));
  const { prefix, include, exclude, perSecond, ...asked } = given;
  const lines = (value: unknown) =>
    String(value ?? '')
      .split(/\n/)
      .map((line) => line.trim())
      .filter(Boolean);
  return {
    ...asked,
    scope: {
      ...(prefix ? { prefix } : {}),
      include: lines(include),
      exclude: lines(exclude),
      sitemaps: given['sitemaps'] === 'on',
      obeyRobots: given['ownSite'] !== 'on',
      ...(perSecond ? { perSecond: Number(perSecond) } : {}),
    },
  };
}

export async function surveyAgain(form: FormData): Promise<void> {
  const id = Collection.parse(form.get('collection'));
  await startSurvey(id);
  redirect(`/c/${id}/survey`);
}

export async function stop(surveyId: number): Promise<void> {
  await stopSurvey(Id.parse(surveyId));
}

export async function goOn(surveyId: number): Promise<void> {
  await resumeSurvey(Id.parse(surveyId));
}

export async function takeOffTheShelf(form: FormData): Promise<void> {
  await removeCollection(Collection.parse(form.get('collection')));
  revalidatePath('/');
}

const Keep = z.object({
  collection: Collection,
  target: Target,
  /** `''` for silence; null gives back what the page says. */
  text: z.string().max(20_000).nullable(),
  act: Act,
  by: z.enum(['person', 'drafter']).default('person'),
});

/** @returns how many places have the words now; silence passes over those that name a link or a button */
export async function keep(asked: z.input<typeof Keep>): Promise<number> {
  const { collection, target, text, act, by } = Keep.parse(asked);
  const places = await placesOf(collection, target);
  const ids = places.filter((p) => text !== '' || target.kind === 'places' || !p.namesControl).map((p) => p.id);
  await keepWords({ collectionId: collection, appearanceIds: ids, text, act, by });
  return ids.length;
}

export async function undo(collection: string, act: string): Promise<void> {
  await undoAct(Collection.parse(collection), Act.parse(act));
}

/** @returns for how many of how many places there was something to say */
export async function draft(collection: string, target: Target, act: string): Promise<{ drafted: number; of: number }> {
  const id = Collection.parse(collection);
  const places = await placesOf(id, Target.parse(target));
  const unsaid = places.filter((p) => p.state === 'unsaid');
  const ids = (unsaid.length > 0 ? unsaid : places).map((p) => p.id);
  return { drafted: await draftWords(id, ids, Act.parse(act)), of: ids.length };
}

/** Takes or refuses the drafts that wait at some places. */
export async function answerDrafts(
  collection: string,
  target: Target,
  answer: 'take' | 'refuse',
  act: string,
): Promise<number> {
  const id = Collection.parse(collection);
  const ids = (await placesOf(id, Target.parse(target))).map((p) => p.id);
  return answer === 'take' ? takeDrafts(id, ids, Act.parse(act)) : refuseDrafts(id, ids);
}

export async function settle(collection: string, places: number[], purpose: string): Promise<void> {
  await settlePurpose(Collection.parse(collection), Ids.parse(places), z.enum(PURPOSES).parse(purpose));
}

/** The Desk's picture as it is now. */
export async function lookAgain(
  collection: string,
  picture: number,
  place: number | null,
): Promise<DeskPicture | null> {
  const c = await collectionById(Collection.parse(collection));
  return c && deskPicture(c, Id.parse(picture), place === null ? null : Id.parse(place));
}
