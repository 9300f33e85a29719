import { existsSync, readFileSync } from 'node:fs';

const CHROMIUMS = JSON.parse(readFileSync(new URL('./chromiums.json', import.meta.url), 'utf8')) as string[];

/** Debian's Chromium, as it runs on a machine without a screen and without the outside world. */
export const BROWSER = {
  executablePath: CHROMIUMS.find((path) => existsSync(path)) ?? 'chromium',
  args: [
    '--no-sandbox',
    '--disable-dev-shm-usage',
    '--no-proxy-server',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--no-first-run',
    '--disable-sync',
  ],
};
