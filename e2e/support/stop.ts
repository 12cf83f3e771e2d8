import { rmSync } from 'node:fs';
import type { Running } from './start';

export default async function stop(): Promise<void> {
  const { dettoRunning } = globalThis as typeof globalThis & { dettoRunning?: Running };
  if (!dettoRunning) return;
  const { detto, site, service, data } = dettoRunning;
  await detto.end();
  for (const server of [site, service])
    await new Promise((resolve) => {
      server.close(resolve);
      server.closeAllConnections();
    });
  rmSync(data, { recursive: true, force: true });
}
