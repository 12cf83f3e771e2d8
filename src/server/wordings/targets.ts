import { and, eq, exists, inArray, not, sql } from 'drizzle-orm';
import type { Target } from '@/contract/target';
import { ruleById } from '@/core/rules';
import { conditions, placeConditions, showsPlaces } from '../catalogue/views';
import { among } from '../db/bulk';
import { database } from '../db/database';
import { appearance, finding, picture } from '../db/schema';

export interface TargetPlace {
  id: number;
  state: 'described' | 'decorative' | 'missing';
  /** An empty alt there would leave a link, a button or an area without a name. */
  namesControl: boolean;
}

/** The appearances that a target names, those that are gone left out. */
export async function placesOf(collectionId: string, target: Target): Promise<TargetPlace[]> {
  const db = await database();
  const where = () => {
    switch (target.kind) {
      case 'places':
        return among(appearance.id, target.places);
      case 'pictures':
        return among(appearance.pictureId, target.pictures);
      case 'view': {
        const { view, except } = target;
        const places = showsPlaces(view);
        const pictures = db.select({ id: picture.id }).from(picture).where(conditions(collectionId, view));
        return and(
          inArray(appearance.pictureId, pictures),
          places ? placeConditions(view) : undefined,
          not(among(places ? appearance.id : appearance.pictureId, except)),
        );
      }
      case 'noted': {
        const found = db
          .select({ one: sql`1` })
          .from(finding)
          .where(
            and(eq(finding.appearanceId, appearance.id), eq(finding.rule, target.rule), eq(finding.ignored, false)),
          );
        // A rule about a set speaks of one place and means all that serve the same purpose.
        const alike = sql`${appearance.purpose} in (select x.purpose from ${appearance} x join ${finding} f on f.appearance_id = x.id
          where f.rule = ${target.rule} and f.picture_id = ${target.picture})`;
        const scope = ruleById(target.rule)?.scope === 'picture' ? alike : exists(found);
        return and(eq(appearance.pictureId, target.picture), scope);
      }
    }
  };
  const rows = await db
    .select({
      id: appearance.id,
      state: appearance.state,
      namesControl: sql<boolean>`coalesce(${appearance.reading}->'context'->'control'->>'text' = '', false)`,
    })
    .from(appearance)
    .where(and(eq(appearance.collectionId, collectionId), eq(appearance.gone, false), where()))
    .orderBy(appearance.id);
  return rows;
}
