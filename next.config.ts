import type { NextConfig } from 'next';

const nextConfig: NextConfig = {
  // Found content is served by route handlers with their own policy; nothing here comes from outside.
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: [
    '@electric-sql/pglite',
    'sharp',
    'pino',
    'undici',
    'yauzl',
    'yazl',
    'pdfjs-dist',
    '@cantoo/pdf-lib',
    'encoding-sniffer',
    'playwright-core',
  ],
  // `npm test` checks the types of everything; a build that does it again takes half as long again.
  typescript: { ignoreBuildErrors: true },
  experimental: {
    // A page's code is loaded when it is first asked for: surveys that go on at a start would wait for all of it.
    preloadEntriesOnStart: false,
    serverActions: { bodySizeLimit: '8mb' },
  },
};

export default nextConfig;
