// `npm run demo`: Detto with the demo site on its shelf, the stand-in content system that serves that site, and a stand-in
// drafting service.
import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { answers, build, follow, serve } from './serve.mjs';

const port = process.env.DETTO_DEMO_SITE_PORT ?? '4801';
const site = `http://127.0.0.1:${port}`;
const servicePort = process.env.DETTO_DEMO_SERVICE_PORT ?? '4802';
const drafting = `http://127.0.0.1:${servicePort}`;

await build();
const { server, address } = await serve({
  DETTO_DATA: process.env.DETTO_DATA ?? 'data/demo',
  DETTO_ALLOW_HOSTS: `127.0.0.1:${port},127.0.0.1:${servicePort}`,
});
const content = spawn(process.execPath, ['dist/demo.js', port, servicePort], { stdio: ['ignore', 2, 2] });
content.on('exit', () => server.kill());
follow(server, () => content.kill());
await Promise.all([answers(site, content), answers(address, server)]);
const { DETTO_TOKEN: token } = process.env;
const headers = { 'content-type': 'application/json', ...(token ? { authorization: `Bearer ${token}` } : {}) };
const shelf = await (await fetch(`${address}/api/collections`, { headers })).json();
const add = async (wanted) => {
  const response = await fetch(`${address}/api/collections`, { method: 'POST', headers, body: JSON.stringify(wanted) });
  const added = await response.json();
  if (!response.ok) throw new Error(added.error);
  return added;
};
if (shelf.length === 0) {
  // The latest stands first.
  await add({ kind: 'folder', where: path.resolve('dist/demo-documents'), name: 'Skerry Sound: documents' });
  const added = await add({ kind: 'site', where: `${site}/`, name: 'Skerry Sound' });
  const style = await fetch(`${address}/api/collections/${added.id}/house-style`, {
    method: 'PUT',
    headers,
    body: readFileSync('demo/house-style.json'),
  });
  if (!style.ok) throw new Error((await style.json()).error);
}
const services = await (await fetch(`${address}/api/drafting-services`, { headers })).json();
if (services.length === 0) {
  const service = await fetch(`${address}/api/drafting-services`, {
    method: 'POST',
    headers,
    body: JSON.stringify({
      name: 'Harbour vision (stand-in)',
      address: `${drafting}/v1`,
      model: 'harbour-vision',
      key: 'harbour-demo-key',
      priceIn: 2.5,
      priceOut: 10,
      currency: 'EUR',
      perMinute: 120,
      monthlyBudget: 20,
    }),
  });
  if (!service.ok) throw new Error((await service.json()).error);
}
process.stdout.write(
  `Detto is at ${address}\nThe demo site, Skerry Sound, is at ${site}\nThe stand-in drafting service is at ${drafting}\n`,
);
