import { isDatabaseShared } from '../db/database';
import type { LimitsPort } from '../ports/limits';
import { MemoryLimits } from './memory-limits';
import { SharedLimits } from './shared-limits';

/** One for the process, across the bundles that Next makes of the server. */
const shared = globalThis as typeof globalThis & { dettoLimits?: LimitsPort };

/** The limits that hold for all that this process, and those that share its database, ask of others. */
export async function limits(): Promise<LimitsPort> {
  if (await isDatabaseShared()) return new SharedLimits();
  return (shared.dettoLimits ??= new MemoryLimits());
}
