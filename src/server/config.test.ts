import { jest } from '@jest/globals';

/** The settings, read again. */
async function configOf(env: Record<string, string>) {
  jest.resetModules();
  for (const key of Object.keys(process.env)) if (key.startsWith('DETTO_')) delete process.env[key];
  Object.assign(process.env, env);
  return (await import('./config')).config();
}

test('on loopback nobody has to sign in; elsewhere Detto does not start without a token', async () => {
  expect((await configOf({})).token).toBeNull();
  await expect(configOf({ DETTO_HOST: '0.0.0.0' })).rejects.toThrow('DETTO_TOKEN is not set');
  await expect(configOf({ DETTO_HOST: '192.0.2.7' })).rejects.toThrow('or listen on 127.0.0.1');
  await expect(configOf({ DETTO_HOST: '0.0.0.0', DETTO_TOKEN: 'short' })).rejects.toThrow('DETTO_TOKEN: at least 16');
  const open = await configOf({ DETTO_HOST: '192.0.2.7', DETTO_TOKEN: 'x'.repeat(16), DETTO_HOSTS: 'Alt.example ,' });
  expect(open).toMatchObject({ token: 'x'.repeat(16), hostNames: ['alt.example', '192.0.2.7'] });
});
