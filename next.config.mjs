const isolation = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'same-origin' },
];

// Scripts of workers carry a policy of their own: what they compute may be compiled there, but nothing comes from elsewhere.
const WORKERS =
  "default-src 'self' blob: data:; script-src 'self' blob: 'wasm-unsafe-eval'; object-src 'none'; frame-ancestors 'none'";

/** @type {import('next').NextConfig} */
export default {
  reactStrictMode: true,
  poweredByHeader: false,
  // Tells one build from another: what one worked out, another does anew.
  env: { GLYPTA_EDITION: new Date().toISOString() },
  serverExternalPackages: ['sequelize', 'pg', 'umzug', 'pg-boss', 'pino', 'prom-client'],
  // The decoder asks for them where it runs outside of a page.
  turbopack: {
    resolveAlias: { fs: { browser: './src/workers/nothing.ts' }, path: { browser: './src/workers/nothing.ts' } },
  },
  // Pages get a policy with a nonce of their own (src/proxy.ts); what is no page may do nothing at all.
  headers: async () => [
    { source: '/:path*', headers: isolation },
    ...['/api/:path*', '/favicon.ico'].map((source) => ({
      source,
      headers: [{ key: 'Content-Security-Policy', value: "default-src 'none'; frame-ancestors 'none'" }],
    })),
    {
      source: '/_next/:path*',
      headers: [{ key: 'Content-Security-Policy', value: WORKERS }],
    },
  ],
  typescript: { ignoreBuildErrors: true }, // types are checked once, by ./glypta test
};
