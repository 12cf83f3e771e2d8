import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { DEPARTURES, departures, DEPARTURES_SCRIPT, PAGES, printPage, STYLE } from './site/pages';
import { freshStore } from './site/store';

const TYPES: Record<string, string> = {
  svg: 'image/svg+xml',
  jpg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  avif: 'image/avif',
  gif: 'image/gif',
};
const ROBOTS = 'User-agent: *\nDisallow: /staff-only/\n';
const NOT_FOUND =
  '<!doctype html><html lang="en"><title>Not found – Skerry Sound</title><p>There is nothing here.</html>';
const Words = z.object({ words: z.string().max(5000).nullable() });
const MAX_BODY = 20_000;

async function bodyOf(request: IncomingMessage): Promise<string> {
  let body = '';
  for await (const part of request) {
    body += String(part);
    if (body.length > MAX_BODY) throw new Error('too long');
  }
  return body;
}

/**
 * A stand-in for a content system: pages printed from templates, a store of pictures with their words, and
 * a small interface to read and set these. It keeps nothing when it ends.
 *
 * `GET /store/pictures` lists the store; `PUT /store/pictures/ID` with `{"words": "…"}` sets the words.
 *
 * @param pictures folder with the rendered pictures
 */
export function contentSystem(pictures: string): Server {
  const store = freshStore();

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', 'http://skerry.invalid');
    const send = (status: number, type: string, body: string | Buffer) => {
      response.writeHead(status, { 'content-type': type, 'content-length': Buffer.byteLength(body) });
      response.end(body);
    };
    const json = (status: number, value: unknown) => send(status, 'application/json', JSON.stringify(value));
    const stored = /^\/store\/pictures\/([a-z0-9-]+)$/.exec(url.pathname)?.[1];
    if (stored !== undefined && request.method === 'PUT') {
      const known = store.get(stored);
      if (!known) return json(404, { error: 'no such picture' });
      const given = Words.safeParse(JSON.parse(await bodyOf(request)));
      if (!given.success) return json(400, { error: given.error.issues[0]!.message });
      store.set(stored, { ...known, words: given.data.words });
      return json(200, store.get(stored));
    }
    if (request.method !== 'GET' && request.method !== 'HEAD') return json(405, { error: 'not here' });
    if (url.pathname === '/store/pictures') return json(200, [...store.values()]);
    if (url.pathname === '/robots.txt') return send(200, 'text/plain', ROBOTS);
    if (url.pathname === '/style.css') return send(200, 'text/css', STYLE);
    if (url.pathname === '/departures') return send(200, 'text/html; charset=utf-8', DEPARTURES);
    if (url.pathname === '/departures.js') return send(200, 'text/javascript; charset=utf-8', DEPARTURES_SCRIPT);
    if (url.pathname === '/departures.json') return json(200, departures(store));
    // A picture that was never uploaded whole: the store has the login page of somebody else's system in it.
    if (url.pathname === '/pictures/deck-plan.png') return send(200, 'image/png', NOT_FOUND);
    const file = /^\/pictures\/([\w.-]+)$/.exec(url.pathname)?.[1];
    if (file) {
      try {
        return send(
          200,
          TYPES[file.split('.').pop()!] ?? 'application/octet-stream',
          readFileSync(path.join(pictures, file)),
        );
      } catch {
        return send(404, 'text/html; charset=utf-8', NOT_FOUND);
      }
    }
    const page = PAGES.find((p) => p.path === url.pathname);
    return send(page ? 200 : 404, 'text/html; charset=utf-8', page ? printPage(page, store) : NOT_FOUND);
  }

  return createServer((request, response) => {
    answer(request, response).catch(() => {
      if (!response.headersSent) response.writeHead(400);
      response.end();
    });
  });
}
