import { AxeBuilder } from '@axe-core/playwright';
import { expect, give, openSite, test } from './demo';

test('@phone will it be dark in January? Answered off line, beside twice the bank, and made a proposal', async ({
  demo,
  context,
}, { project }) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await expect(demo.getByTestId('year')).toContainText(/the power fails in \d+ of 100 \w+/);
  await demo.getByTestId('year').click();
  await expect(demo.getByTestId('year-lead')).toContainText(/of 200 \w+/);
  await context.setOffline(true);
  await demo.getByRole('radio', { name: 'Twice the bank capacity' }).click();
  await expect(demo.getByTestId('year-beside')).toContainText(/Twice the bank capacity\. .* Generator .* less/);
  await expect(demo.getByTestId('ribbon').getByRole('img')).toHaveAttribute('aria-label', /Power cuts: \w+ \d+ %/);
  await demo.getByRole('button', { name: 'Show figures' }).click();
  await expect(demo.getByRole('table', { name: 'kWh by month' }).getByRole('row')).toHaveCount(13);
  await context.setOffline(false);
  const { violations } = await new AxeBuilder({ page: demo })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  if (project.name !== 'phone') return;
  // What is tried is a proposal in one tap.
  await expect(demo.getByRole('button', { name: 'Save as proposal' })).toBeVisible();
});

test('@phone what a year lacks is named, each leading to its field', async ({ demo }, { project }) => {
  await demo.getByRole('button', { name: 'New site' }).click();
  await demo.getByLabel('Name of the site').fill(`Dark ${project.name}`);
  await demo.getByRole('button', { name: 'Begin' }).click();
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('year').click();
  await expect(demo.getByText('The year cannot be simulated yet. Missing:')).toBeVisible();
  await demo.getByRole('button', { name: /latitude/i }).click();
  await expect(demo.getByRole('dialog')).toBeVisible();
});

test('@phone a day\u2019s hours by touch, and what is tried by thumb follows each press and becomes a proposal', async ({
  demo,
}) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('year').click();
  await expect(demo.getByTestId('year-lead')).toContainText(/of 200 \w+/);
  await demo.getByTestId('ribbon-touch').click({ position: { x: 90, y: 60 } });
  const hours = demo.getByTestId('day-hours');
  await expect(hours.getByRole('heading')).toContainText(/(January|February)/);
  await expect(hours.getByTestId('day-sum')).toContainText(/Sun .*kWh, used .*kWh/);
  const before = await hours.getByRole('heading').innerText();
  await hours.getByRole('button', { name: 'Next day' }).click();
  await expect(hours.getByRole('heading')).not.toHaveText(before);
  await hours.getByRole('button', { name: 'Hide' }).click();
  await demo.getByTestId('try-it').click();
  await expect(demo.getByTestId('tried')).toHaveText('Nothing changed yet.');
  await demo.getByRole('button', { name: /Sixteen 6 V blocks, strings: one more/ }).click();
  await expect(demo.getByTestId('tried')).toContainText(/of 200 .* Generator .* less/);
  await demo.getByRole('button', { name: 'As it was' }).click();
  await expect(demo.getByTestId('tried')).toHaveText('Nothing changed yet.');
  // A weather file that is none says so, and the two hundred years stand.
  await give(demo, demo.getByRole('radio', { name: 'A weather file (EPW)' }), {
    name: 'no.epw',
    mimeType: 'text/plain',
    buffer: Buffer.from('part,label'),
  });
  await expect(demo.getByText(/no\.epw cannot be used\. line 1: does not begin with LOCATION/)).toBeVisible();
  await demo.getByRole('radio', { name: 'Generator starts automatically' }).click();
  await expect(demo.getByTestId('tried')).toContainText(/the power never fails|of 200/);
  await demo.getByRole('button', { name: 'Save as proposal' }).first().click();
  await expect(demo.getByRole('heading', { name: 'With your changes' })).toBeVisible();
});
