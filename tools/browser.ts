/** Debian's Chromium, as it runs on a machine without a screen and without the outside world. */
export const BROWSER = {
  executablePath: '/usr/bin/chromium-headless-shell',
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
