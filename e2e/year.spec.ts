import { AxeBuilder } from '@axe-core/playwright';
import { expect, openSite, test } from './demo';

test('@phone will it be dark in January? Answered off line, beside twice the bank, and made a proposal', async ({
  demo,
  context,
}, { project }) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await expect(demo.getByTestId('year')).toContainText(/Dark in \d+ of 100 Januaries/);
  await demo.getByTestId('year').click();
  await expect(demo.getByTestId('year-lead')).toContainText('of 200 Januaries');
  await context.setOffline(true);
  await demo.getByRole('radio', { name: 'Twice the bank' }).click();
  await expect(demo.getByTestId('year-beside')).toContainText(/Twice the bank: .* less unserved/);
  await expect(demo.getByTestId('ribbon').getByRole('img')).toHaveAttribute('aria-label', /Dark: Jan \d+ %/);
  await demo.getByRole('button', { name: 'The figures' }).click();
  await expect(demo.getByRole('table', { name: 'kWh by month' }).getByRole('row')).toHaveCount(13);
  await context.setOffline(false);
  const { violations } = await new AxeBuilder({ page: demo })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  if (project.name !== 'phone') return;
  // What is tried is a proposal in one tap.
  await expect(demo.getByRole('button', { name: 'Make it a proposal' })).toBeVisible();
});

test('@phone what a year lacks is named, each leading to its field', async ({ demo }, { project }) => {
  await demo.getByRole('button', { name: 'New site' }).click();
  await demo.getByLabel('What is the site called?').fill(`Dark ${project.name}`);
  await demo.getByRole('button', { name: 'Begin' }).click();
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('year').click();
  await expect(demo.getByText('The year cannot be worked out yet. What is lacking:')).toBeVisible();
  await demo.getByRole('button', { name: /latitude/i }).click();
  await expect(demo.getByRole('dialog')).toBeVisible();
});
