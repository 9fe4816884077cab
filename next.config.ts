import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  // Components whose inputs are the same are not drawn again: an edit draws what it changed.
  reactCompiler: true,
  // The song page is one client application; nothing of it is rendered per request.
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
