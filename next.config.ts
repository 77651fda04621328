import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['knex', 'better-sqlite3', 'piscina'],
  poweredByHeader: false,
  devIndicators: false,
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
        ],
      },
    ]),
};

export default config;
