import type { TargetChoice, TargetId } from '@/contract/delivery';
import { fieldsOf } from '@/core/house-style/fields';
import type { Collection } from '../../catalogue/collections';
import { diffTarget, documentTarget, zipTarget } from './downloads';
import { folderTarget } from './folder';
import type { DeliveryTarget } from './target';

const TARGETS: Readonly<Record<TargetId, DeliveryTarget>> = {
  zip: zipTarget,
  diff: diffTarget,
  document: documentTarget,
  folder: folderTarget,
};

export const targetById = (id: TargetId): DeliveryTarget => TARGETS[id];

/** The targets that a collection may be delivered to, with the fields of their configurations. */
export function targetChoices(c: Pick<Collection, 'kind' | 'root'>): TargetChoice[] {
  return Object.values(TARGETS).flatMap((target) => {
    const { id, configuration: parameters } = target;
    const configuration = target.defaults(c);
    return configuration === null ? [] : [{ id, fields: fieldsOf({ id, parameters }), configuration }];
  });
}
