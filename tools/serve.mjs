// `npm start`: a server of one's own, from the settings in .env. Unlike the demo it starts no database and loads no data.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, SERVER, WEB_ROOT } from './build.mjs';
import { ensurePackages, launch, ROOT, runMain, Sentence } from './steps.mjs';

runMain(async () => {
  const settings = join(ROOT, '.env');
  if (existsSync(settings)) process.loadEnvFile(settings);
  const missing = ['DATABASE_URL', 'SESSION_SECRET', 'PUBLIC_URL'].filter((name) => !process.env[name]);
  if (missing.length > 0)
    throw new Sentence(
      `${missing.join(', ')} ${missing.length === 1 ? 'is' : 'are'} missing: write .env after .env.example.`,
    );
  await ensurePackages();
  await ensureBuilt();
  const server = launch(process.execPath, [SERVER], {
    env: {
      ...process.env,
      WEB_ROOT: process.env.WEB_ROOT ?? WEB_ROOT,
      SECURE: process.env.SECURE ?? (process.env.PUBLIC_URL.startsWith('https:') ? '1' : '0'),
    },
    stdio: 'inherit',
  });
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  process.exit(await new Promise((resolve) => server.once('exit', (code) => resolve(code ?? 1))));
});
