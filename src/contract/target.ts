import { z } from 'zod';
import { GalleyView } from './galley';

const Id = z.number().int().positive();

/** The places that an act is for. */
export const Target = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('places'), places: z.array(Id).min(1).max(100_000) }),
  /** Every place of some pictures. */
  z.object({ kind: z.literal('pictures'), pictures: z.array(Id).min(1).max(10_000) }),
  /** The places of one picture that a rule's finding is about. */
  z.object({ kind: z.literal('noted'), picture: Id, rule: z.string().max(40) }),
  /** Everything that a view of the Galley holds, but for some lines: pictures, or places where its lines are places. */
  z.object({ kind: z.literal('view'), view: GalleyView, except: z.array(Id).max(10_000).default([]) }),
]);
export type Target = z.infer<typeof Target>;
