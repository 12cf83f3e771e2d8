import { decodedPath } from './decoded-path';

test.each([
  ['/caf%C3%A9', '/café'],
  ['/100%', '/100%'],
  ['/50%25%20off', '/50% off'],
  // Escapes that are no UTF-8 stay as they are.
  ['/caf%E9', '/caf%E9'],
])('%s is %s', (path, decoded) => expect(decodedPath(path)).toBe(decoded));
