// How the processes of Detto are started (docs/decisions/0012-memory.md).
import { readFileSync } from 'node:fs';

export const ENGINE = JSON.parse(readFileSync(new URL('engine.json', import.meta.url), 'utf8'));
