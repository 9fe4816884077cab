import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  // The song page is one client application; nothing of it is rendered per request.
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
