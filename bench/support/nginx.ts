import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { userInfo } from 'node:os';
import path from 'node:path';

/** Serves a folder by nginx on a free port of this machine. */
export async function serveFolder(folder: string, scratch: string) {
  const port = await new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((name) => `${name}_temp_path ${scratch}/${name};`)
    .join(' ');
  const config = path.join(scratch, 'nginx.conf');
  writeFileSync(
    config,
    // As whoever runs the bench: its folders are nobody else's.
    `daemon off; user ${userInfo().username}; pid ${scratch}/pid; error_log stderr crit; worker_processes 1; events {}
http { types { text/html html htm; text/css css; image/png png; image/jpeg jpg; image/svg+xml svg; image/gif gif; }
access_log off; ${temporary} server { listen 127.0.0.1:${port}; root ${folder}; } }`,
  );
  const nginx = spawn('nginx', ['-c', config, '-p', scratch], { stdio: ['ignore', 'ignore', 'inherit'] });
  await new Promise((resolve) => setTimeout(resolve, 500));
  return { origin: `http://127.0.0.1:${port}`, host: `127.0.0.1:${port}`, close: () => nginx.kill() };
}
