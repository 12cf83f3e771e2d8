// A PostgreSQL server for tests: Debian's, in a folder and on a port of its own, as another user where this one is root.
import { spawn, spawnSync } from 'node:child_process';
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

const VERSIONS = '/usr/lib/postgresql';

/** @returns the folder of the newest server's programs; null where none is installed */
export function postgresPrograms() {
  const versions = existsSync(VERSIONS) ? readdirSync(VERSIONS).sort((a, b) => Number(b) - Number(a)) : [];
  const found = versions
    .map((v) => path.join(VERSIONS, v, 'bin'))
    .find((bin) => existsSync(path.join(bin, 'postgres')));
  return found ?? null;
}

const freePort = () =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** PostgreSQL refuses to run as root. */
function otherUser() {
  if (process.getuid() !== 0) return {};
  const ask = (flag) => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout);
  return { uid: ask('-u'), gid: ask('-g') };
}

/**
 * @param settings of the server, besides those that a test needs
 * @returns the address of a database that is there, `start`, `kill` (-9, with all that belongs to it) and `stop`
 */
export async function startPostgres(settings = {}) {
  const bin = postgresPrograms();
  if (!bin) throw new Error(`There is no PostgreSQL in ${VERSIONS}. Install it (apt-get install postgresql).`);
  const user = otherUser();
  const base = mkdtempSync(path.join(tmpdir(), 'detto-postgres-'));
  if (user.uid) chownSync(base, user.uid, user.gid);
  const folder = path.join(base, 'data');
  const options = { ...user, cwd: base, stdio: 'ignore' };
  const made = spawnSync(
    path.join(bin, 'initdb'),
    ['-D', folder, '-U', 'detto', '-A', 'trust', '-E', 'UTF8', '--locale=C.UTF-8', '-N'],
    { ...options, stdio: 'pipe' },
  );
  if (made.status !== 0) throw new Error(`initdb failed: ${made.stderr}`);
  const port = await freePort();
  const all = { port, listen_addresses: '127.0.0.1', unix_socket_directories: base, max_connections: 200, ...settings };
  const given = Object.entries(all).flatMap(([name, value]) => ['-c', `${name}=${value}`]);
  let server = null;
  const isUp = () =>
    spawnSync(path.join(bin, 'pg_isready'), ['-q', '-h', '127.0.0.1', '-p', String(port), '-d', 'postgres']).status ===
    0;
  const start = async () => {
    server = spawn(path.join(bin, 'postgres'), ['-D', folder, ...given], { ...options, detached: true });
    for (let tries = 0; !isUp(); tries++) {
      if (tries > 300 || server.exitCode !== null) throw new Error(`PostgreSQL in ${folder} did not start.`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };
  const ended = (signal, pid) =>
    new Promise((resolve) => {
      if (!server || server.exitCode !== null || server.signalCode !== null) return resolve();
      server.once('exit', resolve);
      process.kill(pid(), signal);
    });
  await start();
  return {
    url: `postgres://detto@127.0.0.1:${port}/postgres`,
    start,
    kill: () => ended('SIGKILL', () => -server.pid),
    async stop() {
      await ended('SIGINT', () => server.pid);
      rmSync(base, { recursive: true, force: true });
    },
  };
}
