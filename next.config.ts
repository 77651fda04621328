import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['knex', 'better-sqlite3', 'piscina', 'execa', 'p-queue', '@tus/server', '@tus/file-store'],
  poweredByHeader: false,
  devIndicators: false,
  // the types are checked as a whole, tests and scripts with them: `npm run check` or ./irimi test
  typescript: { ignoreBuildErrors: true },
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
        ],
      },
    ]),
};

export default config;
