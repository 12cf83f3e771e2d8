import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

/** What the docs say of the project's own files and settings is so. */
const tracked = execFileSync('git', ['ls-files'], { encoding: 'utf8' }).split('\n').filter(Boolean);
const docs = ['README.md', ...readdirSync('docs', { recursive: true }).map((f) => path.join('docs', String(f)))].filter(
  (f) => f.endsWith('.md'),
);

test('every path that the docs name is there', () => {
  const missing = docs.flatMap((file) => {
    const named =
      readFileSync(file, 'utf8').match(/`(?:src|cli|bench|demo|deploy|e2e|scripts|docs|drizzle)\/[\w@./[\]-]+`/g) ?? [];
    return named
      .map((n) => n.slice(1, -1).replace(/[./]+$/, ''))
      .filter((n) => !existsSync(n) && !tracked.some((f) => f.startsWith(n)))
      .map((n) => `${file}: ${n}`);
  });
  expect(missing).toEqual([]);
});

test('what is deployed starts scripts that are there, with settings that there are', () => {
  const files = tracked.filter((f) => f.startsWith('deploy/'));
  expect(files).toHaveLength(3);
  const readme = readFileSync('README.md', 'utf8');
  for (const file of files) {
    const text = readFileSync(file, 'utf8');
    const scripts = text.match(/scripts\/[\w-]+\.mjs/g) ?? [];
    expect(scripts.length).toBeGreaterThan(0);
    expect(scripts.filter((s) => !existsSync(s))).toEqual([]);
    expect((text.match(/\bDETTO_[A-Z]+\b/g) ?? []).filter((name) => !readme.includes(name))).toEqual([]);
  }
});

test('every link between the docs leads somewhere', () => {
  const lost = docs.flatMap((file) =>
    [...readFileSync(file, 'utf8').matchAll(/\]\((?!https?:|#|mailto:|…)([^)\s#]+)/g)]
      .map(([, to]) => path.join(path.dirname(file), to!))
      .filter((to) => !existsSync(to))
      .map((to) => `${file}: ${to}`),
  );
  expect(lost).toEqual([]);
});

test('every setting that is read from the environment is in the README', () => {
  const sources = tracked.filter(
    (f) => /^(?:src|cli|scripts)\/.*\.(?:ts|tsx|mjs)$/.test(f) && !/\.test\.|testing\//.test(f),
  );
  const read = new Set(sources.flatMap((f) => readFileSync(f, 'utf8').match(/\bDETTO_[A-Z_]+\b/g) ?? []));
  const readme = readFileSync('README.md', 'utf8');
  expect([...read].filter((name) => !readme.includes(name)).sort()).toEqual([]);
});
