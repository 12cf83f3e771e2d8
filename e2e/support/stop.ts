import { rmSync } from 'node:fs';
import type { Running } from './start';

export default async function stop(): Promise<void> {
  const { dettoRunning } = globalThis as typeof globalThis & { dettoRunning?: Running };
  if (!dettoRunning) return;
  const { detto, site, data } = dettoRunning;
  await detto.end();
  await new Promise((resolve) => {
    site.close(resolve);
    site.closeAllConnections();
  });
  rmSync(data, { recursive: true, force: true });
}
