import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { DETTO } from './support/detto';
import { session } from './support/session';

/**
 * The Desk as Chromium's accessibility tree has it, in the order in which it is heard, kept as a file to be read by people:
 * `UPDATE_TREE=1` writes it anew.
 */
const KEPT = path.join(import.meta.dirname, 'desk-tree.txt');
const { page, collection, openDesk } = await session('demo');

interface AXNode {
  nodeId: string;
  ignored: boolean;
  role?: { value: string };
  name?: { value: string };
  properties?: { name: string; value: { value?: unknown } }[];
  childIds?: string[];
}

/** Roles that say nothing of their own. */
const SILENT = new Set(['none', 'generic', 'InlineTextBox', 'LayoutTableCell', 'LabelText', 'paragraph', 'Section']);
/** States that a listener is told. */
const TOLD = ['level', 'expanded', 'checked', 'pressed', 'disabled', 'readonly', 'focused'];

function print(nodes: AXNode[]): string {
  const byId = new Map(nodes.map((n) => [n.nodeId, n]));
  const lines: string[] = [];
  const walk = (node: AXNode, depth: number) => {
    const role = node.role?.value ?? 'none';
    const isShown = !node.ignored && !SILENT.has(role);
    if (isShown) {
      const states = TOLD.flatMap((state) => {
        const value = node.properties?.find((p) => p.name === state)?.value.value;
        if (value === undefined || value === false) return [];
        return value === true || value === 'true' ? [state] : [`${state} ${String(value)}`];
      });
      const name = (node.name?.value ?? '').replace(/\s+/g, ' ').trim();
      const said = role === 'StaticText' ? name : [role, name && `“${name}”`, ...states].filter(Boolean).join(' ');
      if (said !== '') lines.push('  '.repeat(depth) + said);
    }
    // What a button or a heading is named by is not said twice.
    const isLeaf =
      isShown && ['button', 'heading', 'link', 'textbox', 'img', 'image', 'checkbox', 'radio'].includes(role);
    if (!isLeaf)
      for (const id of node.childIds ?? []) {
        const child = byId.get(id);
        if (child) walk(child, isShown ? depth + 1 : depth);
      }
  };
  const main = nodes.find((n) => n.role?.value === 'main');
  if (main) walk(main, 0);
  return `${lines.join('\n')}\n`;
}

test('read in order, the Desk makes sense: what the hands use is heard first', async () => {
  // The draft is composed from look-alikes too, which are grouped last.
  for (let left = 150; left > 0; left--) {
    const jobs = (await (await fetch(`${DETTO}/api/collections/${collection}/jobs`)).json()) as unknown[];
    if (jobs.length === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await openDesk('IMG_2041');
  await page.getByRole('region', { name: 'About the picture' }).waitFor();
  const tree = await page.context().newCDPSession(page);
  const { nodes } = (await tree.send('Accessibility.getFullAXTree')) as unknown as { nodes: AXNode[] };
  const now = print(nodes)
    // Seconds of work decide what time it is, and how sure a machine's eye is differs in the last digits.
    .replace(/\d\d:\d\d/g, '00:00')
    .replace(/\(\d+ %\)/g, '(n %)')
    // Look-alikes that are as good as one another come in the order in which they were found.
    .replace(/(?<= {2}region “8 that look alike”\n)[\s\S]*/, '    (eight links, with their words and what differs)\n')
    // Pictures that are used as often as one another come in the order in which they were found.
    .replace(/\b\d+ of 72\b/, 'n of 72')
    // Which of its look-alikes comes first is not the same in every survey.
    .replace(/(‹how many\?› puffins)[^,]*/, '$1 …')
    .replace(/(look-alike) “[^”]*”/, '$1 “…”');
  if (process.env['UPDATE_TREE']) writeFileSync(KEPT, now);
  expect(now).toBe(readFileSync(KEPT, 'utf8'));
});
