import { readFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { jest } from '@jest/globals';
import { auditOptions } from '../cli/arguments';
import { audit } from '../cli/audit';
import type { AuditReport } from '../cli/report';
import { RULES } from '../src/core/rules';
import { picturesFolder, rendered } from './art/render';
import { contentSystem } from './content-system';
import { documentsFolder } from './documents';

/** The faults planted in the demo and what Detto finds there: none missed, nothing else reported. */
let site: Server;
let origin: string;
let report: AuditReport;
let documents: AuditReport;

interface Fault {
  rule: string;
  outcome: string;
  page: string;
  picture: string;
  element: string;
  why: string;
}
const faults = JSON.parse(readFileSync(path.join('demo', 'faults.json'), 'utf8')) as Fault[];

// Drawing all pictures again takes most of it.
jest.setTimeout(240_000);

beforeAll(async () => {
  site = contentSystem(await picturesFolder(path.resolve('dist/demo-pictures')));
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve));
  const { port } = site.address() as AddressInfo;
  origin = `http://127.0.0.1:${port}`;
  const style = ['--style', 'demo/house-style.json'];
  const options = auditOptions(['audit', `${origin}/`, '--allow-host', `127.0.0.1:${port}`, '--read-text', ...style]);
  report = await audit(options, process.cwd(), () => undefined);
  const folder = await documentsFolder(path.resolve('dist/demo-pictures'), path.resolve('dist/demo-documents'));
  documents = await audit(auditOptions(['audit', folder, '--read-text']), process.cwd(), () => undefined);
});
afterAll(() => {
  site.close();
  site.closeAllConnections();
});

const line = (f: Omit<Fault, 'why'>) => [f.page, f.element, f.picture, f.rule, f.outcome].join(' | ');

test('every planted fault is found, and nothing else', () => {
  const found = [report, documents].flatMap(({ appearances, findings }) => {
    const at = new Map(appearances.map((a) => [a.id, a]));
    return findings.map((f) => {
      const a = at.get(f.appearance)!;
      const [page, picture] = [f.page, a.src ?? ''].map((address) => address.replace(origin, ''));
      return line({ rule: f.rule, outcome: f.outcome, page: page!, picture: picture!, element: a.element });
    });
  });
  expect(found.sort()).toEqual(faults.map(line).sort());
});

test('a fault is planted for every rule, each with the reason', () => {
  expect(RULES.map((r) => r.id).filter((id) => !faults.some((f) => f.rule === id))).toEqual([]);
  expect(faults.filter((f) => f.why.length < 12)).toEqual([]);
});

test('its pictures are of every format, and drawn the same each time', async () => {
  expect([...new Set(report.pictures.map((p) => p.type))].sort()).toEqual(
    expect.arrayContaining(['image/avif', 'image/gif', 'image/jpeg', 'image/png', 'image/svg+xml', 'image/webp']),
  );
  for (const file of ['hero-ferry.jpg', 'tides.svg', 'seal.gif', 'quay-morning.avif'])
    expect((await rendered(file)).equals(readFileSync(path.join('dist/demo-pictures', file)))).toBe(true);
});
