// How every process of Detto is started (docs/decisions/0012-garbage-in-one-thread.md).
import { readFileSync } from 'node:fs';

export const NODE_FLAGS = JSON.parse(readFileSync(new URL('node-flags.json', import.meta.url), 'utf8'));
