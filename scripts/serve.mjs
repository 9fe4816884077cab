/**
 * npm start: serves what was built, on this machine alone. PORT is the port, 3000 when it is not set; HOST the
 * interface it listens on, 0.0.0.0 for every network of this machine; HOSTS further names it goes by, set apart
 * by commas.
 */
import { runTypeScript } from './lib.mjs';

const { PORT = '3000', HOST = 'localhost', HOSTS = '' } = process.env;
process.env.NODE_ENV = 'production';
try {
  const names = HOSTS.split(',').map((name) => name.trim());
  await runTypeScript('src/server/serve.ts', Number(PORT), HOST, names.filter(Boolean));
} catch (error) {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${PORT} is taken. Set PORT to another.`
      : `The server cannot start: ${error.message}`,
  );
  process.exit(1);
}
