import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import yazl from 'yazl';
import { DATA, focusSomewhere, listening, SITE } from './support/detto';
import { session } from './support/session';

/** What comes onto the shelf: sites, folders and ZIPs, and everything that is refused in words. */
const { page, problems } = await session('shared');

const PAGE = '<!doctype html><html lang="en"><title>Quay</title><img src="img/dot.gif"><p>Text</p></html>';
const DOT = Buffer.from('R0lGODlhAQABAIAAAP///wAAACwAAAAAAQABAAACAkQBADs=', 'base64');

function folder(name: string, files: Record<string, string | Buffer>): string {
  const root = path.join(DATA, name);
  for (const [file, content] of Object.entries(files)) {
    mkdirSync(path.dirname(path.join(root, file)), { recursive: true });
    writeFileSync(path.join(root, file), content);
  }
  return root;
}

async function zip(name: string, files: Record<string, string | Buffer>): Promise<string> {
  const made = new yazl.ZipFile();
  for (const [file, content] of Object.entries(files)) made.addBuffer(Buffer.from(content), file);
  made.end();
  const parts: Buffer[] = [];
  for await (const part of made.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part);
  const target = path.join(DATA, name);
  writeFileSync(target, Buffer.concat(parts));
  return target;
}

test('an address that is none, or leads into the private network, is refused in words', async () => {
  await page.goto('/');
  await page.getByLabel('Address of the site').fill('not an address');
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText('is not a web address').waitFor();
  await page.getByLabel('Address of the site').fill('http://127.0.0.1:9/');
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.waitForURL('**/survey');
  await page.getByText('Detto may not open addresses on this machine').first().waitFor();
  // What was mistyped is corrected where it failed.
  await page.getByLabel('Correct the address').fill('http://127.0.0.1:9/other');
  await page.getByRole('button', { name: 'Survey this address' }).click();
  await page.getByText('http://127.0.0.1:9/other').first().waitFor();
  await page.getByText('Detto may not open addresses on this machine').first().waitFor();
});

test('a site is surveyed live, with the account of what was skipped', async () => {
  await page.goto('/');
  await page.getByLabel('Address of the site').fill(SITE);
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.waitForURL('**/survey');
  await page.getByText('Done.').waitFor();
  await focusSomewhere(page);
  const account = page.getByRole('region', { name: 'Survey log' });
  expect(await account.getByRole('listitem').filter({ hasText: 'staff-only' }).textContent()).toContain(
    'blocked by robots.txt',
  );
  expect(await account.getByRole('listitem').filter({ hasText: 'deck-plan' }).textContent()).toContain(
    'not a picture, an HTML page',
  );
  await page.getByRole('link', { name: 'To the Galley' }).click();
  await page.getByText('72 of 72 pictures, in 120 appearances on 19 pages').waitFor();
});

test('a folder of this machine is surveyed by its path', async () => {
  await page.goto('/');
  await page.getByRole('combobox', { name: /What to survey/ }).click();
  await page.getByRole('option', { name: 'a folder on this computer' }).click();
  await page.getByLabel('Path of the folder').fill('/no/such/folder');
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText('There is no folder or file at /no/such/folder.').waitFor();
  await page.getByLabel('Path of the folder').fill(folder('quay-pages', { 'index.html': PAGE, 'img/dot.gif': DOT }));
  await page.getByRole('button', { name: 'Survey it' }).click();
  await page.getByText('Done. 1 picture file on 1 page.').waitFor();
});

test('a folder is chosen, sent and surveyed', async () => {
  await page.goto('/');
  const root = folder('sent-pages', {
    'a/index.html': PAGE.replace('img/', '../img/'),
    'img/dot.gif': DOT,
    'notes.txt': 'no page',
  });
  await page.getByLabel('a folder', { exact: true }).setInputFiles(root);
  await page.getByText('Done. 1 picture file on 1 page.').waitFor();
  await page.getByText('sent-pages', { exact: true }).waitFor();
});

test('a ZIP is sent and surveyed; one that is none, or unsafe, is refused in words', async () => {
  await page.goto('/');
  const input = page.getByLabel('a ZIP or documents', { exact: true });
  const broken = path.join(DATA, 'broken.zip');
  writeFileSync(broken, 'PK not really');
  await input.setInputFiles(broken);
  await page.getByText('This is not a ZIP').waitFor();
  // The library refuses to write such a name, so it is put in afterwards.
  const { readFileSync } = await import('node:fs');
  const unsafe = await zip('unsafe.zip', { 'xx/evil.html': PAGE });
  writeFileSync(
    unsafe,
    Buffer.from(readFileSync(unsafe).toString('latin1').replaceAll('xx/evil', '../evil'), 'latin1'),
  );
  await input.setInputFiles(unsafe);
  await page.getByText(/unsafe/).waitFor();
  await input.setInputFiles(await zip('good.zip', { 'index.html': PAGE, 'img/dot.gif': DOT }));
  await page.getByText('Done. 1 picture file on 1 page.').waitFor();
});

test('what is dropped on the sheet is surveyed', async () => {
  await page.goto('/');
  await listening(page);
  const { readFileSync } = await import('node:fs');
  const bytes = readFileSync(await zip('dropped.zip', { 'index.html': PAGE, 'img/dot.gif': DOT })).toString('base64');
  const data = await page.evaluateHandle((base64) => {
    const transfer = new DataTransfer();
    const content = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    transfer.items.add(new File([content], 'dropped.zip', { type: 'application/zip' }));
    return transfer;
  }, bytes);
  // A browser reports a drag every few hundred milliseconds for as long as it lasts.
  for (let i = 0; i < 50 && (await page.getByText('Drop to survey').count()) === 0; i++) {
    await page.dispatchEvent('#sheet h2', 'dragover', { dataTransfer: data });
    await page.waitForTimeout(100);
  }
  await page.getByText('Drop to survey').waitFor();
  await page.dispatchEvent('#sheet h2', 'drop', { dataTransfer: data });
  await page.getByText('Done. 1 picture file on 1 page.').waitFor();
});

test('a collection is taken off the shelf, after a question', async () => {
  await page.goto('/');
  const line = page.getByRole('listitem').filter({ hasText: 'good' });
  await line.getByRole('button', { name: /Remove/ }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Remove' }).click();
  await line.waitFor({ state: 'detached' });
});

test('nothing went wrong in the page meanwhile', () => {
  expect(problems.filter((p) => !p.startsWith('400 '))).toEqual([]);
});
