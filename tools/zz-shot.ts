import { chromium } from '@playwright/test';
import { BROWSER } from '/work/main/tools/browser';
const [, , size, out, ...steps] = process.argv;
const [w, h] = size!.split('x').map(Number);
const b = await chromium.launch(BROWSER);
const p = await b.newPage({ viewport: { width: w!, height: h! }, serviceWorkers: 'block' } as any);
p.on('console', (m) => {
  if (m.type() === 'error' || m.type() === 'warning') console.log('CONSOLE', m.text());
});
p.on('pageerror', (e) => console.log('PAGEERR', e.message));
await p.goto('http://localhost:4280/');
p.setDefaultTimeout(4000);
for (const s of steps) {
  const [verb, ...r] = s.split(':');
  const a = r.join(':');
  if (verb === 't') await p.getByText(a, { exact: false }).first().click();
  else if (verb === 'id') await p.getByTestId(a).first().click();
  else if (verb === 'r') await p.getByRole('button', { name: a, exact: true }).first().click();
  else if (verb === 'w') await p.waitForTimeout(Number(a));
  else if (verb === 'k') await p.keyboard.press(a);
  else if (verb === 'l') await p.getByRole('link', { name: a, exact: true }).first().click();
  else if (verb === 'dark') await p.emulateMedia({ colorScheme: 'dark' });
  else if (verb === 's') {
    await p.waitForTimeout(400);
    await p.screenshot({ path: out!.replace('.png', `${a}.png`) });
  }
  await p.waitForTimeout(150);
}
await b.close();
