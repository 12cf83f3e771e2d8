/** The name of the file at an address or path, decoded; `''` where it has none. */
export function fileNameOf(src: string): string {
  const last = /^data:/i.test(src) ? '' : src.split(/[?#]/)[0]!.split('/').pop()!;
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

const extensionOf = (name: string): string => /\.[a-z0-9]{1,5}$/i.exec(name)?.[0].toLowerCase() ?? '';

/** Why a file cannot be called so: an id of the interface's strings; null when it can. */
export function fileNameProblem(name: string, now: string): 'empty' | 'characters' | 'extension' | null {
  if (name.slice(0, name.length - extensionOf(name).length).trim() === '') return 'empty';
  // What every server and file system takes, and no address has to encode (RFC 3986, 2.3, unreserved characters).
  if (!/^[A-Za-z0-9._~-]+$/.test(name) || name.startsWith('.')) return 'characters';
  return extensionOf(name) === extensionOf(now) ? null : 'extension';
}

/** An address or path whose last part is another file name; what stands behind it stays. */
export function withFileName(src: string, name: string): string {
  const [, folder, query] = /^([^?#]*\/)?[^/?#]*([?#].*)?$/.exec(src)!;
  return `${folder ?? ''}${name}${query ?? ''}`;
}
