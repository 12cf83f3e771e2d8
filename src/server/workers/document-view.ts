import { spawn } from 'node:child_process';
import { constants } from 'node:fs';
import { access, mkdir, mkdtemp, readdir, readFile, rename, rm, stat, utimes, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import PQueue from 'p-queue';
import type { FormatId } from '@/core/model/document';
import { config } from '../config';
import { log, messageOf } from '../log';

/** Milliseconds for LibreOffice to make a PDF, and for one page of it to be drawn. */
const CONVERT_MS = 90_000;
const DRAW_MS = 20_000;
/** Documents whose PDFs are kept. */
const MOST_KEPT = 40;
/** Dots per inch of the picture of a page. */
const RESOLUTION = 96;

/** How LibreOffice exports each kind: hidden slides are counted, and each sheet is one page. */
const EXPORTS: Partial<Record<FormatId, string>> = {
  docx: 'pdf:writer_pdf_Export',
  odt: 'pdf:writer_pdf_Export',
  pptx: 'pdf:impress_pdf_Export:{"ExportHiddenSlides":{"type":"boolean","value":"true"}}',
  odp: 'pdf:impress_pdf_Export:{"ExportHiddenSlides":{"type":"boolean","value":"true"}}',
  xlsx: 'pdf:calc_pdf_Export:{"SinglePageSheets":{"type":"boolean","value":"true"}}',
  ods: 'pdf:calc_pdf_Export:{"SinglePageSheets":{"type":"boolean","value":"true"}}',
};

/** Settings of a profile of its own: no macros, no links that are fetched, and a proxy that leads nowhere. */
const PROFILE = `<?xml version="1.0" encoding="UTF-8"?>
<oor:items xmlns:oor="http://openoffice.org/2001/registry" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance">
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="MacroSecurityLevel" oor:op="fuse"><value>3</value></prop></item>
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="DisableMacrosExecution" oor:op="fuse"><value>true</value></prop></item>
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="BlockUntrustedRefererLinks" oor:op="fuse"><value>true</value></prop></item>
<item oor:path="/org.openoffice.Inet/Settings"><prop oor:name="ooInetProxyType" oor:op="fuse"><value>2</value></prop></item>
<item oor:path="/org.openoffice.Inet/Settings"><prop oor:name="ooInetHTTPProxyName" oor:op="fuse"><value>127.0.0.1</value></prop></item>
<item oor:path="/org.openoffice.Inet/Settings"><prop oor:name="ooInetHTTPProxyPort" oor:op="fuse"><value>9</value></prop></item>
<item oor:path="/org.openoffice.Inet/Settings"><prop oor:name="ooInetHTTPSProxyName" oor:op="fuse"><value>127.0.0.1</value></prop></item>
<item oor:path="/org.openoffice.Inet/Settings"><prop oor:name="ooInetHTTPSProxyPort" oor:op="fuse"><value>9</value></prop></item>
</oor:items>
`;

const queue = new PQueue({ concurrency: 1 });

/** Where a program is found; null where it is not installed. */
async function programOf(...names: string[]): Promise<string | null> {
  for (const folder of (process.env['PATH'] ?? '').split(path.delimiter).filter(Boolean))
    for (const name of names) {
      const place = path.join(folder, name);
      const isThere = await access(place, constants.X_OK).then(
        () => true,
        () => false,
      );
      if (isThere) return place;
    }
  return null;
}

/** Runs a program to its end, or ends it and all that it has started. */
function run(program: string, args: string[], timeoutMs: number, cwd: string): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    // Nothing of the server's environment is a document's business.
    const env: NodeJS.ProcessEnv = {
      NODE_ENV: 'production',
      PATH: process.env['PATH'] ?? '',
      HOME: cwd,
      LANG: 'C.UTF-8',
    };
    const child = spawn(program, args, { cwd, env, detached: true, stdio: ['ignore', 'pipe', 'ignore'] });
    const parts: Buffer[] = [];
    const timer = setTimeout(() => process.kill(-child.pid!, 'SIGKILL'), timeoutMs);
    child.stdout.on('data', (part: Buffer) => parts.push(part));
    child.once('error', (error) => {
      clearTimeout(timer);
      reject(error);
    });
    child.once('close', (code) => {
      clearTimeout(timer);
      if (code === 0) resolve(Buffer.concat(parts));
      else reject(new Error(`${path.basename(program)} ended with ${code}`));
    });
  });
}

const viewsFolder = () => path.join(config().dataDir, 'views');

/** The document as a PDF, made once; null where nothing here makes one. */
async function pdfOf(sha256: string, format: FormatId, bytes: Buffer): Promise<string | null> {
  const file = path.join(viewsFolder(), `${sha256}.pdf`);
  const now = new Date();
  if ((await stat(file).catch(() => null)) !== null) {
    await utimes(file, now, now);
    return file;
  }
  await mkdir(viewsFolder(), { recursive: true, mode: 0o700 });
  if (format === 'pdf') {
    await writeFile(file, bytes, { mode: 0o600 });
    return file;
  }
  const office = await programOf('soffice', 'libreoffice');
  const filter = EXPORTS[format];
  if (!office || !filter) return null;
  const folder = await mkdtemp(path.join(os.tmpdir(), 'detto-view-'));
  try {
    const profile = path.join(folder, 'profile');
    await mkdir(path.join(profile, 'user'), { recursive: true });
    await writeFile(path.join(profile, 'user', 'registrymodifications.xcu'), PROFILE);
    await writeFile(path.join(folder, `shown.${format}`), bytes);
    const args = [
      `-env:UserInstallation=file://${profile}`,
      '--headless',
      '--norestore',
      '--nolockcheck',
      '--convert-to',
      filter,
    ];
    await run(office, [...args, '--outdir', folder, path.join(folder, `shown.${format}`)], CONVERT_MS, folder);
    await writeFile(`${file}.new`, await readFile(path.join(folder, 'shown.pdf')), { mode: 0o600 });
    await rename(`${file}.new`, file);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  await forgetOldest();
  return file;
}

async function forgetOldest(): Promise<void> {
  const files = await Promise.all(
    (await readdir(viewsFolder())).map(async (name) => {
      const file = path.join(viewsFolder(), name);
      return { file, at: (await stat(file)).mtimeMs };
    }),
  );
  files.sort((a, b) => b.at - a.at);
  for (const { file } of files.slice(MOST_KEPT)) await rm(file, { force: true });
}

/** A document as a PDF, for as long as somebody looks at it. */
export interface DocumentView {
  bytes(): Promise<Buffer>;
  /** The text of each page; nothing where the program for it is missing. */
  texts(): Promise<string[]>;
  /** A page as a PNG; null where it cannot be drawn. @param page from 1 */
  draw(page: number): Promise<Buffer | null>;
}

/**
 * Makes a PDF of an office document with the programs that are installed.
 *
 * @returns null where they are missing, or fail
 */
export async function openView(sha256: string, format: FormatId, bytes: Buffer): Promise<DocumentView | null> {
  const guarded = <T>(work: () => Promise<T>, otherwise: T): Promise<T> =>
    queue.add(() =>
      work().catch((error: unknown) => {
        log.warn({ message: messageOf(error) }, 'a page of a document could not be drawn');
        return otherwise;
      }),
    );
  const [draw, read] = [await programOf('pdftoppm'), await programOf('pdftotext')];
  const file = await guarded(() => pdfOf(sha256, format, bytes), null);
  if (file === null || draw === null) return null;
  return {
    bytes: () => readFile(file),
    texts: () =>
      guarded(
        async () =>
          read === null
            ? []
            : (await run(read, ['-enc', 'UTF-8', file, '-'], DRAW_MS, os.tmpdir())).toString('utf8').split('\f'),
        [],
      ),
    draw: (page) =>
      guarded(async () => {
        const args = ['-png', '-r', String(RESOLUTION), '-f', String(page), '-l', String(page), '-singlefile', file];
        const png = await run(draw, args, DRAW_MS, os.tmpdir());
        return png.length === 0 ? null : png;
      }, null),
  };
}
