// `npm start` in an unpacked release: the server with its web app, from the settings in .env.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const settings = join(here, '.env');
if (existsSync(settings)) process.loadEnvFile(settings);
const missing = ['DATABASE_URL', 'SESSION_SECRET', 'PUBLIC_URL'].filter((name) => !process.env[name]);
if (missing.length > 0) {
  process.stderr.write(
    `${missing.join(', ')} ${missing.length === 1 ? 'is' : 'are'} missing: copy .env.example to .env and fill it in.\n`,
  );
  process.exit(1);
}
const server = spawn(process.execPath, [join(here, 'server', 'main.mjs')], {
  env: {
    ...process.env,
    WEB_ROOT: process.env.WEB_ROOT ?? join(here, 'web'),
    SECURE: process.env.SECURE ?? (process.env.PUBLIC_URL.startsWith('https:') ? '1' : '0'),
  },
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.once('exit', (code) => process.exit(code ?? 1));
