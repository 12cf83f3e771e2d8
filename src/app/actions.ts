'use server';

import { UserError } from '@/core/model/user-error';
import { redirect } from 'next/navigation';
import { revalidatePath } from 'next/cache';
import { z } from 'zod';
import { Act } from '@/contract/acts';
import { PURPOSES } from '@/core/model/appearance';
import { SentStyle, type StyleEffects } from '@/contract/house-style';
import type { RuleStyle } from '@/core/rules/audit';
import { checkStyle, readHouseStyle } from '@/core/house-style/house-style';
import { ruleById } from '@/core/rules';
import { acceptWord as acceptHouseWord, saveHouseStyle, switchRuleOff } from '@/server/audit/house-style';
import { bringBack as findingsBack, ignoreFindings } from '@/server/audit/ignored';
import { styleEffect } from '@/server/audit/style-effect';
import { sharedReaders } from '@/server/workers/reader-pool';
import { addCollection, changeLimits, correctAddress as correctRoot } from '@/server/intake/add-collection';
import { collectionById, removeCollection, renameCollection as nameCollection } from '@/server/catalogue/collections';
import { faultOf } from './api/answering';
import { Target } from '@/contract/target';
import { recordCredit as keepCredit } from '@/server/catalogue/credit';
import { placeLongDescription, showCreditLine } from '@/server/catalogue/placement';
import { STANDS, TIES, type Placement } from '@/core/model/texts';
import { resumeSurvey, startSurvey, stopSurvey } from '@/server/survey/surveys';
import { leaveOut as setLeftOut } from '@/server/delivery/leave-out';
import { draftAppearances } from '@/server/drafting/drafts';
import { placesOf } from '@/server/wordings/targets';
import { chooseText, rejectDrafts, settlePurpose, acceptDrafts } from '@/server/wordings/wordings';

const Id = z.number().int().positive();
const Ids = z.array(Id).min(1).max(100_000);
const Collection = z.string().min(1).max(80);

export interface Answer {
  error: string | null;
}

/** Puts a site or a folder on the shelf, surveys it, and shows that. */
export async function survey(_: Answer, form: FormData): Promise<Answer> {
  let id: string;
  try {
    id = (await addCollection(await askedIn(form))).id;
  } catch (error) {
    return { error: faultOf(error).error };
  }
  redirect(`/c/${id}/survey`);
}

/** What the form on the shelf asks for; fields that were left empty are not there. */
async function askedIn(form: FormData): Promise<unknown> {
  const given = Object.fromEntries([...form].filter(([, value]) => value !== ''));
  const { prefix, include, exclude, perSecond, reading, user, password, header, value, table, ...asked } = given;
  const listed =
    table instanceof File && table.size > 0
      ? await sharedReaders().addresses(new Uint8Array(await table.arrayBuffer()))
      : [];
  const lines = (value: unknown) =>
    String(value ?? '')
      .split(/\n/)
      .map((line) => line.trim())
      .filter(Boolean);
  return {
    ...asked,
    ...(listed.length > 0 ? { where: [asked['where'] ?? '', ...listed].join('\n') } : {}),
    ...(user ? { access: { user, password: password ?? '' } } : header ? { access: { header, value } } : {}),
    scope: {
      ...(prefix ? { prefix } : {}),
      include: lines(include),
      exclude: lines(exclude),
      sitemaps: given['sitemaps'] === 'on',
      documents: given['documents'] === 'on',
      obeyRobots: given['ownSite'] !== 'on',
      ...(reading ? { reading } : {}),
      ...(perSecond ? { perSecond: Number(perSecond) } : {}),
    },
  };
}

/** Changes what the next survey of a site goes by. */
export async function saveLimits(_: Answer, form: FormData): Promise<Answer> {
  try {
    const c = await collectionById(Collection.parse(form.get('collection')));
    if (!c) throw new UserError('There is no such collection.');
    await changeLimits(c, { ...((await askedIn(form)) as object), forgetAccess: form.get('forgetAccess') === 'on' });
    revalidatePath(`/c/${c.id}/survey`);
    return { error: null };
  } catch (error) {
    return { error: faultOf(error).error };
  }
}

/** Surveys another address than the one that was mistyped. */
export async function correctAddress(_: Answer, form: FormData): Promise<Answer> {
  try {
    const c = await collectionById(Collection.parse(form.get('collection')));
    if (!c) throw new UserError('There is no such collection.');
    await correctRoot(c, z.string().parse(form.get('where')));
    revalidatePath(`/c/${c.id}`, 'layout');
    return { error: null };
  } catch (error) {
    return { error: faultOf(error).error };
  }
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

const Name = z.string().trim().min(1).max(200);

export async function renameCollection(form: FormData): Promise<void> {
  await nameCollection(Collection.parse(form.get('collection')), Name.parse(form.get('name')));
  revalidatePath('/');
}

export async function takeOffTheShelf(form: FormData): Promise<void> {
  await removeCollection(Collection.parse(form.get('collection')));
  revalidatePath('/');
}

const Choice = z.union([z.enum(['ours', 'theirs']), z.object({ text: z.string().max(20_000) })]);

/** @returns false when somebody has chosen already */
export async function choose(
  collection: string,
  conflict: number,
  choice: z.input<typeof Choice>,
  act: string,
): Promise<boolean> {
  return chooseText(Collection.parse(collection), Id.parse(conflict), Choice.parse(choice), Act.parse(act));
}

/** @returns for how many of how many places there was something to say */
export async function draft(collection: string, target: Target, act: string): Promise<{ drafted: number; of: number }> {
  const id = Collection.parse(collection);
  const places = await placesOf(id, Target.parse(target));
  const missing = places.filter((p) => p.state === 'missing');
  const ids = (missing.length > 0 ? missing : places).map((p) => p.id);
  return { drafted: await draftAppearances(id, ids, Act.parse(act)), of: ids.length };
}

/** Accepts or rejects the drafts that wait at some places. */
export async function answerDrafts(
  collection: string,
  target: Target,
  answer: 'accept' | 'reject',
  act: string,
): Promise<number> {
  const id = Collection.parse(collection);
  const ids = (await placesOf(id, Target.parse(target))).map((p) => p.id);
  return (answer === 'accept' ? acceptDrafts : rejectDrafts)(id, ids, Act.parse(act));
}

/** @returns at how many places the purpose was set */
export async function settle(collection: string, places: number[], purpose: string, act: string): Promise<number> {
  return settlePurpose(
    Collection.parse(collection),
    Ids.parse(places),
    z.enum(PURPOSES).parse(purpose),
    Act.parse(act),
  );
}

const Aside = z.object({
  rule: z.string().min(1).max(40),
  reason: z.string().trim().min(1).max(400),
  by: z.string().trim().min(1).max(80),
  act: Act,
});

/** @returns in how many places the finding was set aside */
export async function ignoreFinding(collection: string, target: Target, aside: z.input<typeof Aside>): Promise<number> {
  const id = Collection.parse(collection);
  const places = await placesOf(id, Target.parse(target));
  return ignoreFindings({ collectionId: id, appearanceIds: places.map((p) => p.id), ...Aside.parse(aside) });
}

export async function bringBack(collection: string, place: number, rule: string, act: string): Promise<void> {
  await findingsBack(Collection.parse(collection), [Id.parse(place)], z.string().max(40).parse(rule), Act.parse(act));
}

export async function acceptWord(collection: string, word: string, act: string): Promise<void> {
  await acceptHouseWord(Collection.parse(collection), z.string().trim().min(1).max(80).parse(word), Act.parse(act));
}

const SentCredit = z.object({
  credit: z.string().trim().max(300),
  licence: z.string().trim().max(300),
  source: z.string().trim().max(2000),
});

/** Records whom a picture is owed to. */
export async function recordCredit(
  collection: string,
  picture: number,
  credit: z.input<typeof SentCredit>,
  act: string,
): Promise<void> {
  await keepCredit(Collection.parse(collection), Id.parse(picture), SentCredit.parse(credit), Act.parse(act));
}

const SentPlacement = z.object({ stand: z.enum(STANDS), tie: z.enum(TIES) });

/** Chooses where the long description of a picture stands, and how it is tied to it. */
export async function placeLong(collection: string, picture: number, placement: Placement, act: string): Promise<void> {
  await placeLongDescription(
    Collection.parse(collection),
    Id.parse(picture),
    SentPlacement.parse(placement),
    Act.parse(act),
  );
}

/** Puts the credit line below a picture at some places, or leaves it off. */
export async function showCredit(collection: string, places: number[], isShown: boolean, act: string): Promise<void> {
  await showCreditLine(Collection.parse(collection), Ids.parse(places), z.boolean().parse(isShown), Act.parse(act));
}

/** What a house style would change, on the collection's own texts. */
export async function effectOf(collection: string, style: z.input<typeof SentStyle>): Promise<StyleEffects> {
  const c = await collectionById(Collection.parse(collection));
  if (!c) throw new UserError('There is no such collection.');
  return styleEffect(c, checkStyle(SentStyle.parse(style)));
}

/** Keeps a house style; what it changes is found again in the background. */
export async function saveHouseStyleFile(
  collection: string,
  style: z.input<typeof SentStyle>,
  act: string,
): Promise<void> {
  await saveHouseStyle(Collection.parse(collection), checkStyle(SentStyle.parse(style)), Act.parse(act));
}

/** Switches a rule off for a collection; what it found goes in the background. */
export async function switchOff(collection: string, rule: string, act: string): Promise<void> {
  const known = ruleById(z.string().max(100).parse(rule));
  if (!known) throw new UserError('There is no such rule.');
  await switchRuleOff(Collection.parse(collection), known.id, Act.parse(act));
}

/** Reads a house style's file; it is not kept yet. */
export async function readStyle(text: string): Promise<{ style: RuleStyle } | { error: string }> {
  try {
    return { style: readHouseStyle(z.string().max(1_000_000).parse(text)) };
  } catch (error) {
    return { error: faultOf(error).error };
  }
}

/** Leaves the words of a place out of the delivery for now, or puts them back. */
export async function leaveOut(collection: string, place: number, leftOut: boolean, act: string): Promise<void> {
  await setLeftOut(Collection.parse(collection), [Id.parse(place)], z.boolean().parse(leftOut), Act.parse(act));
}
