import { fileURLToPath } from 'node:url';
import { AxeBuilder } from '@axe-core/playwright';
import {
  test as base,
  expect,
  type APIRequestContext,
  type FileChooser,
  type Locator,
  type Page,
} from '@playwright/test';

/** Signed in to the demo, on the list of sites. Any error on the page's console fails the test. */
export const test = base.extend<{ demo: Page }>({
  demo: async ({ page }, run) => {
    const troubles: string[] = [];
    page.on('pageerror', (error) => troubles.push(error.message));
    page.on('console', (message) => {
      // A refused sign-in or file is an answer of ours; the browser reports the status as an error all the same.
      if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
        troubles.push(message.text());
    });
    // Sites that this test makes are put away at its end, or the list would grow with every test and slow the next.
    const made = new Set<string>();
    page.on('request', (request) => {
      if (request.method() === 'POST' && request.url().endsWith('/api/sites'))
        made.add((request.postDataJSON() as { id: string }).id);
    });
    await page.goto('/');
    await page.getByRole('button', { name: 'Look around the demo' }).click();
    await expect(page.getByLabel('Find a site')).toBeVisible({ timeout: 15_000 });
    // The list moves what stands below it when it comes: what is pressed in that moment is not pressed.
    await expect(page.getByTestId(/^site-/).first()).toBeVisible({ timeout: 15_000 });
    await run(page);
    expect(troubles).toEqual([]);
    await putAway(page.context().request, made);
  },
});
export { expect };

async function putAway(request: APIRequestContext, sites: ReadonlySet<string>) {
  const { csrfToken } = (await (await request.get('/api/session')).json()) as { csrfToken: string };
  for (const id of sites)
    await request.put(`/api/sites/${id}/archived`, {
      data: { archived: true },
      headers: { 'x-csrf-token': csrfToken },
    });
}

/** A reference photo of a plate. */
export const plateFile = (name: string) =>
  fileURLToPath(new URL(`../docs/format/reference/plates/${name}`, import.meta.url));

export async function openSite(page: Page, name: string) {
  // A list that is still being drawn may swallow the first tap.
  await expect(async () => {
    if (new URL(page.url()).pathname === '/') await page.getByTestId(`site-${name}`).click({ timeout: 5000 });
    await expect(page.getByTestId('line').first()).toBeVisible({ timeout: 8000 });
  }).toPass({ timeout: 40_000 });
}

/** Brings a copy of a demo site under another name, so that tests do not tread on each other. */
export async function importCopy(
  page: Page,
  name: string,
  change: (file: Record<string, never>) => void = () => undefined,
) {
  const { readFileSync } = await import('node:fs');
  const file = JSON.parse(
    readFileSync(new URL('../demo/sites/corrach-bothy.lantern.json', import.meta.url), 'utf8'),
  ) as {
    site: { name: string };
  };
  file.site.name = name;
  change(file as unknown as Record<string, never>);
  await chooseFile(page, `${name}.lantern.json`, JSON.stringify(file));
  await expect(page.getByTestId('line').first()).toBeVisible();
}

export async function chooseFile(page: Page, name: string, text: string) {
  const button = page.getByRole('button', { name: 'Import a system file' });
  // A list that is still being drawn may swallow the first tap.
  await expect(async () => {
    const chooser = page.waitForEvent('filechooser', { timeout: 3000 });
    await button.click({ timeout: 3000 });
    await (await chooser).setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  }).toPass({ timeout: 30_000 });
}

type Given = Parameters<FileChooser['setFiles']>[0];
/** Presses what asks for files, and gives them. */
export async function give(page: Page, button: Locator, files: Given): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await button.click();
  await (await chooser).setFiles(files);
}

const KEY_NAMES: Record<string, string> = { '.': 'point', '-': 'minus', '/': 'fraction', ' ': 'space', k: 'thousand' };
export const pad = async (page: Page, keys: string) => {
  for (const key of keys)
    await page
      .getByRole('dialog')
      .getByRole('button', { name: KEY_NAMES[key] ?? key, exact: true })
      .click();
};

/** Goes to another screen of the app as it is, without loading it anew. */
export async function show(page: Page, path: string) {
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);
  await expect.poll(() => new URL(page.url()).pathname).toBe(path.split('?')[0]);
}

/** What is hard to make out or to reach on each of some screens. */
export async function troublesOn(page: Page, paths: readonly string[]): Promise<string[]> {
  const troubles: string[] = [];
  for (const path of paths) {
    await show(page, path);
    await expect(page.getByRole('heading').first()).toBeVisible();
    await page.waitForTimeout(400);
    troubles.push(...(await hardToReach(page)).map((trouble) => `${path}: ${trouble}`));
  }
  return troubles;
}

/**
 * What on the page as it stands is hard to make out or to reach, a line each. Only what is wrong is written down, and in
 * the page itself: everything that is right, and a blank page to put it together in, take as long again.
 */
export async function hardToReach(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ['violations'] })
    .setLegacyMode()
    .analyze();
  return violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 160)}`);
}
