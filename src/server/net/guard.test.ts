import dns from 'node:dns';
import { jest } from '@jest/globals';
import type * as Undici from 'undici';

/** What is connected to is what was checked: before the connection, and the peer itself after it. */
const undici = await import('undici');
/** The address that sockets say they reached, and the addresses they were asked for. */
let peer = '93.184.216.34';
const connected: { host: string; servername: string | undefined }[] = [];
let destroyed = 0;
jest.unstable_mockModule('undici', () => ({
  ...undici,
  buildConnector: (): Undici.buildConnector.connector => (options, callback) => {
    connected.push({ host: options.hostname, servername: options.servername });
    callback(null, { remoteAddress: peer, destroy: () => void destroyed++ } as never);
  },
}));
const { guardedConnect, RefusedAddress } = await import('./guard');

const lookup = jest.spyOn(dns.promises, 'lookup');
const resolvesTo = (...addresses: string[]) =>
  lookup.mockResolvedValue(addresses.map((address) => ({ address, family: 4 })) as never);
const connect = (hostname: string) =>
  new Promise<'connected' | Error>((resolve) =>
    guardedConnect([])({ hostname, host: hostname, port: '443', protocol: 'https:' } as never, (error, socket) =>
      resolve(socket ? 'connected' : error!),
    ),
  );

beforeEach(() => {
  peer = '93.184.216.34';
  connected.length = 0;
  destroyed = 0;
});
afterAll(() => lookup.mockRestore());

test('it connects to the address that was checked, under the name that was asked for', async () => {
  resolvesTo('93.184.216.34');
  expect(await connect('isle.example')).toBe('connected');
  expect(connected).toEqual([{ host: '93.184.216.34', servername: 'isle.example' }]);
});

test('one private address of several is enough to refuse a host', async () => {
  resolvesTo('93.184.216.34', '10.0.0.7');
  expect(await connect('isle.example')).toBeInstanceOf(RefusedAddress);
  expect(connected).toEqual([]);
});

test('a socket that reached a private address after all is destroyed', async () => {
  resolvesTo('93.184.216.34');
  for (peer of ['127.0.0.1', '::ffff:10.0.0.7', '169.254.169.254']) {
    const answer = await connect('isle.example');
    expect(answer).toBeInstanceOf(RefusedAddress);
  }
  expect(destroyed).toBe(3);
});
