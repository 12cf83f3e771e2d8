import { decodedPath } from '@/core/formats/html/decoded-path';

/** Where a page goes in the ZIP: a file's own path, an address as a server would keep it. */
export function fileFor(path: string): string {
  if (!/^https?:/.test(path)) return path;
  const url = new URL(path);
  let file = decodedPath(url.pathname).replace(/^\/+/, '').replace(/\\/g, '_');
  file = file
    .split('/')
    .filter((part) => part !== '..' && part !== '.')
    .join('/');
  if (file === '' || url.pathname.endsWith('/'))
    file = file === '' ? 'index.html' : `${file.replace(/\/$/, '')}/index.html`;
  else if (!/\.[a-z0-9]{1,5}$/i.test(file)) file += '.html';
  return url.search ? file.replace(/(\.[a-z0-9]+)$/i, `_${url.search.slice(1).replace(/[^\w=-]+/g, '_')}$1`) : file;
}
