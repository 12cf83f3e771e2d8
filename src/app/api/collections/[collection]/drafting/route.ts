import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { DraftingPlan } from '@/contract/drafting';
import { DEFAULT_INSTRUCTIONS } from '@/core/draft/prompt';
import { database } from '@/server/db/database';
import { draftingPlan, saveDraftingPlan } from '@/server/drafting/plan';
import { instructionsHistory, instructionsOf, saveInstructions } from '@/server/drafting/prompts';
import { draftingFigures } from '@/server/drafting/reading';
import { collectionOf } from '@/server/catalogue/collection-of';

export const dynamic = 'force-dynamic';

interface Context {
  params: Promise<{ collection: string }>;
}

/** The instructions of a collection with their history, the results of its drafts, and what is drafted by itself. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    return Response.json({
      instructions: await instructionsOf(await database(), collection),
      usual: DEFAULT_INSTRUCTIONS,
      history: await instructionsHistory(collection),
      figures: await draftingFigures(collection),
      plan: await draftingPlan(collection),
    });
  });

const Wanted = z.object({
  instructions: z.string().trim().min(1).max(4_000).optional(),
  plan: DraftingPlan.optional(),
});

/** Changes the instructions, or what is drafted by itself. */
export const PUT = (request: Request, context: Context): Promise<Response> =>
  answering(request, async () => {
    const collection = await collectionOf(context);
    const { instructions, plan } = Wanted.parse(await jsonBody(request));
    if (instructions !== undefined) await saveInstructions(collection, instructions);
    if (plan !== undefined) await saveDraftingPlan(collection, plan);
    return new Response(null, { status: 204 });
  });
