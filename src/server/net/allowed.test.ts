import { parseAllowed, refusal } from './allowed';

const nothing: never[] = [];

// IANA special-purpose registries (RFC 6890), RFC 6052, RFC 3056, and the metadata addresses that clouds publish.
test.each([
  '127.0.0.1',
  '10.1.2.3',
  '172.16.0.1',
  '192.168.1.1',
  '169.254.169.254',
  '100.64.0.1',
  '0.0.0.0',
  '168.63.129.16',
  '224.0.0.1',
  '::1',
  '::',
  '::127.0.0.1',
  '::ffff:10.0.0.1',
  '64:ff9b::7f00:1',
  '2002:7f00:1::',
  'fc00::1',
  'fe80::1%eth0',
  'fd00:ec2::254',
  'nonsense',
])('%s is refused', (address) => expect(refusal(address, 80, 'h', nothing)).not.toBeNull());

test.each(['93.184.216.34', '2606:4700::1111', '::ffff:8.8.8.8', '8.8.8.8'])('%s is public', (address) =>
  expect(refusal(address, 80, 'h', nothing)).toBeNull(),
);

test('what the person allowed is allowed, at its port only', () => {
  const allowed = [parseAllowed('localhost:4801'), parseAllowed('10.0.0.0/8'), parseAllowed('[::1]:9')];
  expect(refusal('127.0.0.1', 4801, 'localhost', allowed)).toBeNull();
  expect(refusal('127.0.0.1', 4802, 'localhost', allowed)).toMatchObject({ id: 'refused.this-machine' });
  expect(refusal('127.0.0.1', 4801, 'other', allowed)).not.toBeNull();
  expect(refusal('10.9.9.9', 80, 'intranet', allowed)).toBeNull();
  expect(refusal('::1', 9, '::1', allowed)).toBeNull();
});

test('metadata and link-local addresses are never allowed', () => {
  const allowed = [parseAllowed('169.254.0.0/16'), parseAllowed('169.254.169.254')];
  expect(refusal('169.254.169.254', 80, '169.254.169.254', allowed)).toMatchObject({ id: 'refused.metadata' });
  expect(refusal('169.254.1.1', 80, '169.254.1.1', allowed)).not.toBeNull();
});

test.each(['', 'a b', 'host:99999', 'http://host/'])('%j is no host to allow', (text) =>
  expect(() => parseAllowed(text)).toThrow(/is not a host/),
);
