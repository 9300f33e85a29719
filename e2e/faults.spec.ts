import { AxeBuilder } from '@axe-core/playwright';
import { expect, importCopy, test } from './demo';

test('a fault is found off line: one reading after the other, the cause first, what to do, and no danger left unsaid', async ({
  demo,
  context,
}, { project }) => {
  await importCopy(demo, `Fault ${project.name} ${Date.now() % 10000}`);
  await demo.getByRole('link', { name: /^Service/ }).click();
  await demo.getByTestId('find-fault').click();
  await expect(demo.getByTestId('faults-lead')).toBeVisible({ timeout: 20_000 });
  await context.setOffline(true);
  await demo.getByText('Lights dim at night').click();
  const next = demo.getByTestId('next-reading');
  await expect(next).toContainText('Measure this next');
  // Beside it, on a wide screen, each suspect has its chance where it sits.
  if (project.name === 'desk') {
    await expect(demo.getByRole('radio', { name: 'Suspects' })).toBeChecked();
    await expect(demo.getByTestId('line').getByText('Fault here').first()).toBeVisible();
  }
  // A chip that is let go is as readable as one that was never chosen.
  const colourOf = (name: string) =>
    demo.getByRole('radio', { name }).evaluate((chip) => getComputedStyle(chip.firstElementChild!).color);
  await demo.getByText('Nothing comes in').click();
  await expect.poll(() => colourOf('Lights dim at night')).toBe(await colourOf('It runs down by itself'));
  expect(await colourOf('Lights dim at night')).not.toBe(await colourOf('Nothing comes in'));
  await demo.getByText('Lights dim at night').click();
  // Whatever is asked first: the pad is there, and what is typed is weighed at once.
  const before = await demo.getByTestId('faults-lead').textContent();
  for (const key of ['9', '9']) await next.getByRole('button', { name: key, exact: true }).click();
  // What is typed moves the bars before it is saved.
  await expect(demo.getByTestId('as-typed')).toContainText('%', { timeout: 15_000 });
  await demo.getByRole('button', { name: 'Save reading' }).click();
  await expect.poll(() => demo.getByTestId('faults-lead').textContent(), { timeout: 15_000 }).not.toBe(before);
  await demo
    .getByTestId(/^cause-/)
    .first()
    .click();
  await expect(demo.getByText('What to do')).toBeVisible();
  const { violations } = await new AxeBuilder({ page: demo }).analyze();
  expect(violations.map(({ id }) => id)).toEqual([]);
  await context.setOffline(false);
});
