import { z } from 'zod';
import { strings } from '../strings';

export interface Dropped {
  /** With forward slashes, from the folder that was dropped. */
  path: string;
  file: File;
}

/** Pages and documents; those of before 2007 too, which the survey says how to save. */
const READ = /\.(?:x?html?|do[ct][xm]?|p[po][tps][xm]?|xl[st][xm]?|o[dt][tps]|epub|pdf|eml|md|mdx|markdown|svgz?)$/i;
const BESIDE = /\.(?:css|png|jpe?g|gif|webp|avif|bmp|ico|tiff?)$|(?:^|\/)imsmanifest\.xml$/i;
const TOOL_FOLDER = /(?:^|\/)(?:node_modules|\.git|\.svn|\.hg|__MACOSX)\//;
const AT_ONCE = 4;

const Created = z.object({ id: z.string() });
const Problem = z.object({ error: z.string() });

/**
 * What of a drop goes to Detto: one ZIP, or the pages, documents and pictures of a folder.
 *
 * @throws Error in words when there is nothing in it to survey
 */
export function whatToSend(
  dropped: Dropped[],
): { kind: 'zip'; file: File } | { kind: 'folder'; name: string; files: Dropped[] } {
  const zips = dropped.filter((d) => /\.zip$/i.test(d.path));
  if (zips.length > 0 && dropped.length === 1) return { kind: 'zip', file: zips[0]!.file };
  const files = dropped.filter((d) => (READ.test(d.path) || BESIDE.test(d.path)) && !TOOL_FOLDER.test(d.path));
  if (!files.some((d) => READ.test(d.path)))
    throw new Error(zips.length > 0 ? strings.shelf.oneAtATime : strings.shelf.noPages);
  const top = new Set(files.map((d) => (d.path.includes('/') ? d.path.split('/')[0]! : '')));
  const [only] = [...top];
  if (top.size !== 1 || !only) return { kind: 'folder', name: files[0]!.path.split('/').pop()!, files };
  const recognition = files.map((d) => ({ ...d, path: d.path.slice(only.length + 1) }));
  return { kind: 'folder', name: only, files: recognition };
}

/** All files below what was dropped, however deep. */
export async function filesOfDrop(items: DataTransferItemList): Promise<Dropped[]> {
  const out: Dropped[] = [];
  const todo: { entry: FileSystemEntry; path: string }[] = [];
  for (const item of items) {
    const entry = item.webkitGetAsEntry();
    const file = entry ? null : item.getAsFile();
    if (entry) todo.push({ entry, path: entry.name });
    // What another program hands over may be no entry of the file system.
    else if (file) out.push({ path: file.name, file });
  }
  while (todo.length > 0) {
    const { entry, path } = todo.pop()!;
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
      out.push({ path, file });
      continue;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    // A browser gives the entries of a folder in portions, the last of which is empty.
    for (;;) {
      const portion = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
      if (portion.length === 0) break;
      todo.push(...portion.map((e) => ({ entry: e, path: `${path}/${e.name}` })));
    }
  }
  return out;
}

async function ask(address: string, init: RequestInit): Promise<Response> {
  const response = await fetch(address, init);
  if (response.ok) return response;
  const problem = Problem.safeParse(await response.json().catch(() => null));
  throw new Error(problem.success ? problem.data.error : strings.failed);
}

/**
 * Sends a ZIP, which may be large.
 *
 * @param progress how many bytes of it were sent
 * @returns the id of the new collection
 */
export async function sendZip(file: File, progress: (sent: number) => void): Promise<string> {
  progress(0);
  const name = file.name.replace(/\.zip$/i, '');
  // `fetch` does not say how far a body is.
  const request = new XMLHttpRequest();
  request.upload.onprogress = ({ loaded }) => progress(Math.min(loaded, file.size));
  request.upload.onload = () => progress(file.size);
  const answer = await new Promise<unknown>((resolve, reject) => {
    request.onload = () => resolve(parsed(request.responseText));
    request.onerror = () => reject(new Error(strings.failed));
    request.open('PUT', `/api/uploads/zip?name=${encodeURIComponent(name)}`);
    request.send(file);
  });
  if (request.status < 300) return Created.parse(answer).id;
  const problem = Problem.safeParse(answer);
  throw new Error(problem.success ? problem.data.error : strings.failed);
}

function parsed(json: string): unknown {
  try {
    return JSON.parse(json);
  } catch {
    return null;
  }
}

/** @returns the id of the new collection */
export async function sendFolder(
  { name, files }: { name: string; files: Dropped[] },
  progress: (done: number) => void,
): Promise<string> {
  const { id } = Created.parse(await (await ask('/api/uploads', { method: 'POST' })).json());
  let next = 0;
  let done = 0;
  progress(0);
  const sender = async () => {
    while (next < files.length) {
      const { path, file } = files[next++]!;
      await ask(`/api/uploads/${id}?path=${encodeURIComponent(path)}`, { method: 'PUT', body: file });
      progress(++done);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, sender));
  const finished = await ask(`/api/uploads/${id}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name }),
  });
  return Created.parse(await finished.json()).id;
}
