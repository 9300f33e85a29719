import { writeFileSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { BROWSER } from './browser';

/** Draws the app's icons from the one sign of True Lantern. Run when the sign changes; the PNGs are committed. */
const sign = (pad: number, ground: string) => `
  <svg xmlns="http://www.w3.org/2000/svg" viewBox="${-pad} ${-pad} ${48 + 2 * pad} ${48 + 2 * pad}" width="100%" height="100%">
    <rect x="${-pad}" y="${-pad}" width="${48 + 2 * pad}" height="${48 + 2 * pad}" fill="${ground}"/>
    <path d="M12 15 a12 12 0 0 1 24 0" fill="none" stroke="#FFB04A" stroke-width="4"/>
    <path d="M5 16 H43" stroke="#F4E9D0" stroke-width="3"/>
    <path d="M24 16 V27" stroke="#F4E9D0" stroke-width="5"/>
    <circle cx="24" cy="35" r="9" fill="#F4E9D0"/><circle cx="24" cy="35" r="3.4" fill="#B8520A"/>
  </svg>`;

const browser = await chromium.launch(BROWSER);
for (const [file, size, pad] of [
  ['client/public/icon-192.png', 192, 5],
  ['client/public/icon-512.png', 512, 5],
  ['client/public/icon-maskable-512.png', 512, 13],
  ['client/public/favicon.png', 48, 2],
] as const) {
  const page = await browser.newPage({ viewport: { width: size, height: size } });
  await page.setContent(`<style>body{margin:0}</style>${sign(pad, '#14120D')}`);
  writeFileSync(file, await page.screenshot());
  await page.close();
}
await browser.close();
