import { parseAllowed } from '../net/allowed';
import { TestSite } from '../testing/site';

/** Addresses as people type them. */
const { config } = await import('../config');
const { typedAddress } = await import('./typed-address');
let site: TestSite;
beforeAll(async () => {
  site = await TestSite.open(({ url }) => (url === '/' ? { body: '<p>Isle' } : undefined));
  config().allowedHosts = [parseAllowed(site.host)];
});
afterAll(() => site.close());

test('without a scheme, a host that speaks http alone is surveyed by http', async () => {
  expect((await typedAddress(`${site.host}/`)).href).toBe(`${site.origin}/`);
  // An answer is an answer, be it that there is no such page, or that robots.txt keeps it.
  expect((await typedAddress(`${site.host}/gone`)).href).toBe(`${site.origin}/gone`);
});

test('with a scheme, it is what was typed, and nobody is asked', async () => {
  const before = site.asked.length;
  expect((await typedAddress(`https://${site.host}/`)).protocol).toBe('https:');
  expect((await typedAddress(` http://${site.host}/`)).protocol).toBe('http:');
  expect(site.asked).toHaveLength(before);
});

test('where nothing answers, or nobody may go, https stays for the survey to say why', async () => {
  expect((await typedAddress('127.0.0.1:1/')).href).toBe('https://127.0.0.1:1/');
  expect((await typedAddress('169.254.169.254')).href).toBe('https://169.254.169.254/');
});

test('what is no address says so', async () => {
  await expect(typedAddress('not an address')).rejects.toThrow('is not a web address');
});
