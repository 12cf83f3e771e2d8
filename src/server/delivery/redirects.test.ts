import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Rename } from '@/contract/delivery';
import { renamesAs } from './renames';

/** Redirects as the servers read them for which they are written: Debian's Apache HTTP Server and nginx. */
const folder = mkdtempSync(path.join(tmpdir(), 'detto-redirects-'));
const running: ChildProcess[] = [];
afterAll(async () => {
  await Promise.all(
    running.map((child) => {
      const ended = once(child, 'exit');
      child.kill();
      return ended;
    }),
  );
  rmSync(folder, { recursive: true, force: true });
});

const renamed = (from: string): Rename => ({
  pictureId: 1,
  from,
  to: `pictures/new-${PLAIN.indexOf(from)}.jpg`,
  uses: 1,
  isTaken: false,
});
const PLAIN = [
  'pictures/a.jpg',
  'pictures/two words.jpg',
  'pictures/Fähre.jpg',
  'pictures/50% off.jpg',
  'pictures/a+b&c=d.jpg',
  'pictures/~(1)!,@.jpg',
];
const HOSTILE = [
  'x\nlocation / { return 301 http://evil.test; }',
  'a;b.jpg',
  'a{b}.jpg',
  'a"b.jpg',
  "a'b.jpg",
  'a$host.jpg',
  'a\\b.jpg',
  '${PATH}.jpg',
  '#a.jpg',
];
const renames = [...PLAIN, ...HOSTILE.map((name) => `pictures/${name}`)].map(renamed);

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  server.close();
  return port;
}

function ask(port: number, target: string): Promise<{ status: number; location: string }> {
  return new Promise((resolve, reject) => {
    const sent = request({ host: '127.0.0.1', port, path: target }, (answer) => {
      answer.resume();
      resolve({ status: answer.statusCode!, location: answer.headers.location ?? '' });
    });
    sent.on('error', reject).end();
  });
}

async function answering(port: number): Promise<void> {
  for (let i = 0; i < 200; i++) {
    if (
      await ask(port, '/').then(
        () => true,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`nothing answers on ${port}`);
}

const SERVERS = {
  apache: (port: number) => {
    const conf = path.join(folder, 'apache.conf');
    writeFileSync(
      conf,
      `ServerName localhost
ServerRoot ${folder}
PidFile ${folder}/apache.pid
ErrorLog ${folder}/apache.log
DefaultRuntimeDir ${folder}
LoadModule mpm_event_module /usr/lib/apache2/modules/mod_mpm_event.so
LoadModule authz_core_module /usr/lib/apache2/modules/mod_authz_core.so
LoadModule alias_module /usr/lib/apache2/modules/mod_alias.so
Listen 127.0.0.1:${port}
User nobody
Group nogroup
${renamesAs('redirects-apache.conf', renames)}`,
    );
    execFileSync('/usr/sbin/apache2', ['-t', '-f', conf], { stdio: 'pipe' });
    return spawn('/usr/sbin/apache2', ['-f', conf, '-DFOREGROUND'], { stdio: 'ignore' });
  },
  nginx: (port: number) => {
    const conf = path.join(folder, 'nginx.conf');
    mkdirSync(path.join(folder, 'temp'), { recursive: true });
    const temp = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
      .map((t) => `${t}_temp_path ${folder}/temp/${t};`)
      .join('\n');
    writeFileSync(
      conf,
      `daemon off; pid ${folder}/nginx.pid; error_log ${folder}/nginx.log;
events {}
http { ${temp} access_log off; server { listen 127.0.0.1:${port};
${renamesAs('redirects-nginx.conf', renames)} } }`,
    );
    execFileSync('/usr/sbin/nginx', ['-t', '-c', conf, '-e', `${folder}/nginx.log`], { stdio: 'pipe' });
    return spawn('/usr/sbin/nginx', ['-c', conf, '-e', `${folder}/nginx.log`], { stdio: 'ignore' });
  },
};

test.each(Object.keys(SERVERS) as (keyof typeof SERVERS)[])(
  '%s takes the list, leads each plain name on, and no other',
  async (name) => {
    const port = await freePort();
    running.push(SERVERS[name](port));
    await answering(port);
    for (const [i, from] of PLAIN.entries()) {
      const { status, location } = await ask(port, `/${from.split('/').map(encodeURIComponent).join('/')}`);
      expect([from, status, new URL(location, `http://127.0.0.1:${port}`).pathname]).toEqual([
        from,
        301,
        `/pictures/new-${i}.jpg`,
      ]);
    }
    for (const from of HOSTILE) {
      const { status, location } = await ask(port, `/pictures/${encodeURIComponent(from)}`);
      expect([from, status, location]).not.toContain(301);
    }
    expect((await ask(port, '/anything')).status).toBe(404);
  },
);

test('what is left out is said, on one line each', () => {
  for (const name of ['redirects-apache.conf', 'redirects-nginx.conf']) {
    const lines = renamesAs(name, renames).trimEnd().split('\n');
    expect(lines).toHaveLength(renames.length);
    expect(lines.filter((l) => l.startsWith('# Left out'))).toHaveLength(HOSTILE.length);
  }
});
