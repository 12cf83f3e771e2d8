import { cpSync, lstatSync, mkdtempSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { picturesFolder } from '../../demo/art/render';
import { contentSystem } from '../../demo/content-system';
import { draftingService } from '../../demo/drafting-service';
import { DettoProcess, freePort } from './detto-process';

export interface Running {
  detto: DettoProcess;
  site: Server;
  service: Server;
  data: string;
}

const shared = globalThis as typeof globalThis & { dettoRunning?: Running };

/** Starts the built application on an empty folder, the demo site and the stand-in drafting service, for all browser tests. */
export default async function start(): Promise<void> {
  const pictures = await picturesFolder(path.resolve('dist/demo-pictures'));
  const site = contentSystem(pictures);
  const service = draftingService(pictures);
  await new Promise<void>((resolve) => service.listen(0, '127.0.0.1', resolve));
  const { port: servicePort } = service.address() as AddressInfo;
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve));
  const { port: sitePort } = site.address() as AddressInfo;
  const slowPort = await freePort();
  const data = mkdtempSync(path.join(tmpdir(), 'detto-e2e-'));
  const allowed = `127.0.0.1:${sitePort},127.0.0.1:${slowPort},127.0.0.1:${servicePort}`;
  const detto = new DettoProcess(await freePort(), {
    DETTO_DATA: path.join(data, 'data'),
    DETTO_ALLOW_HOSTS: allowed,
    DETTO_LOG: 'warn',
  });
  shared.dettoRunning = { detto, site, service, data };
  process.env['E2E_DETTO'] = detto.address;
  process.env['E2E_SITE'] = `http://127.0.0.1:${sitePort}`;
  process.env['E2E_SERVICE'] = `http://127.0.0.1:${servicePort}`;
  process.env['E2E_DATA'] = data;
  process.env['E2E_ALLOWED'] = allowed;
  // Allowed as well, for sites that a test serves itself.
  process.env['E2E_SLOW_PORT'] = String(slowPort);
  await detto.start();
  // Surveyed and looked at once: most files of tests begin with a copy of it.
  await detto.survey({ kind: 'site', where: `http://127.0.0.1:${sitePort}/`, name: 'Skerry Sound' });
  await detto.end();
  cpSync(path.join(data, 'data'), path.join(data, 'prepared'), {
    recursive: true,
    // The lock of a process that was slow to end.
    filter: (file) => !lstatSync(file).isSocket(),
  });
  await detto.start();
}
