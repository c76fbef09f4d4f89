import path from 'node:path';
import type { NextConfig } from 'next';

const config: NextConfig = {
  transpilePackages: ['@vim-pivot/core'],
  poweredByHeader: false,
  turbopack: { root: path.join(import.meta.dirname, '..') },
};

export default config;
