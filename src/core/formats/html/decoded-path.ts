/** A path with its escapes resolved (URL Standard, 1.3); what is no escape stands for itself, as `100%` does. */
export function decodedPath(path: string): string {
  try {
    return decodeURIComponent(path.replace(/%(?![0-9a-f]{2})/gi, '%25'));
  } catch {
    return path;
  }
}
