import { DocumentError } from '../formats/document-error';
import { ListError } from '../lists/table-file';
import { UserError } from './user-error';

/** Errors for people are known by what they are, also where a bundler has put two copies of their class into one process. */
test('an error of another copy of the class is one, an error of another class is none', async () => {
  // A module is made once for each query (HTML Living Standard, 8.1.6.2, module map).
  const copy = (await import(String('./user-error?copy'))) as { UserError: typeof UserError };
  expect(copy.UserError).not.toBe(UserError);
  const error = new copy.UserError({ id: 'error.disk-full' }, 507);
  expect(error).toBeInstanceOf(UserError);
  expect(error).toMatchObject({ code: 'user', status: 507, reason: { id: 'error.disk-full' } });
  expect(error).not.toBeInstanceOf(DocumentError);
  expect(new Error('x')).not.toBeInstanceOf(UserError);
  expect([null, 'user', { code: 'user' }].some((value) => value instanceof UserError)).toBe(false);
});

test('a class that extends it is distinct from it and from others that do', () => {
  const error = new DocumentError({ id: 'document.untagged-write' });
  expect(error).toBeInstanceOf(UserError);
  expect(error).toBeInstanceOf(DocumentError);
  expect(error).not.toBeInstanceOf(ListError);
  expect(new UserError('Words')).not.toBeInstanceOf(DocumentError);
  expect(error.code).toBe('document');
});
