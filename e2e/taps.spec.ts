import type { Locator } from '@playwright/test';
import { expect, importCopy, test } from './demo';

/**
 * How many taps the commonest entries take, every digit of the pad counted. On a keyboard of the phone itself a figure
 * counts as one, since its digits are typed there.
 */
test('@phone a cable with its fuse in eight taps, ten of them in under ninety, each end inferred', async ({ demo }, {
  project,
}) => {
  test.setTimeout(90_000);
  await importCopy(demo, `Wiring ${project.name}`, (file) => {
    const { system } = file as unknown as { system: Record<string, Record<string, unknown>[]> };
    // What speaks of the cables goes with them.
    Object.assign(file, { proposals: [], evidence: {}, readings: [] });
    system.runs = [];
    system.switches = [];
    for (const box of system.distribution!) box.circuits = [];
    for (const [i, label] of ['Fan', 'Reading lamp', 'Pump'].entries())
      system.loads!.push({ id: `dc${i}`, label: `${label} aft`, kind: 'dc', power_W: 20, hours_d: 2 });
  });
  let taps = 0;
  const tap = async (target: Locator) => {
    await target.click();
    taps += 1;
  };
  const choose = (name: string) => tap(demo.getByRole('radio', { name, exact: true }).first());
  const type = async (figure: string) => {
    for (const key of figure) await tap(demo.getByRole('button', { name: key === '.' ? 'point' : key, exact: true }));
  };
  const save = () => tap(demo.getByRole('button', { name: 'Save this cable' }));

  await tap(demo.getByRole('button', { name: 'Missing: cable to the bank: size?' }).first());
  await expect(demo.getByRole('radio', { name: /^Brackwell T60-150 to / })).toBeChecked();
  await choose('16\u00a0mm\u00b2');
  await choose('NH');
  await choose('80 A');
  await type('2.4');
  await save();
  expect(taps).toBeLessThanOrEqual(8);
  await expect(demo.getByRole('status')).toContainText('Recorded: Brackwell T60-150 to');

  // The rest one after another; what is alike is taken over whole.
  let cables = 1;
  while ((await demo.getByRole('button', { name: 'Save this cable' }).count()) > 0 && cables < 10) {
    if (cables % 2 === 0) await tap(demo.getByRole('button', { name: /^The same as the last/ }));
    else {
      await choose('2.5\u00a0mm\u00b2');
      await choose('blade');
      await tap(demo.getByRole('radiogroup', { name: 'Rating' }).getByRole('radio').first());
    }
    await type('3.5');
    await save();
    cables += 1;
  }
  expect(cables).toBe(10);
  expect(taps).toBeLessThan(90);
});

test('@phone a module plate in twelve, a branch copied whole in three, the system volts taken from the bank', async ({
  demo,
}, { project }) => {
  await demo.getByRole('button', { name: 'New site' }).click();
  await demo.getByLabel('Name of the site').fill(`Plate ${project.name}`);
  await demo.getByRole('button', { name: 'Begin' }).click();
  let taps = 0;
  const tap = async (target: Locator) => {
    await target.click();
    taps += 1;
  };
  await tap(demo.getByRole('button', { name: 'Add a part' }));
  await tap(demo.getByTestId('kind-moduleTypes'));
  // The first figure has the focus, Enter goes on to the next.
  for (const figure of ['235', '36.8', '8.54', '29.8', '7.9']) {
    await demo.keyboard.type(figure);
    await demo.keyboard.press('Enter');
    taps += 1;
  }
  await expect(demo.getByTestId('plate-read')).toContainText('8.54');
  await tap(demo.getByRole('button', { name: 'Save and continue to the strings' }));
  expect(taps).toBeLessThanOrEqual(12);
  await demo.getByRole('button', { name: 'Add to the Line' }).click();

  const add = async (kind: string, item: string) => {
    await demo.getByRole('link', { name: /^Survey/ }).click();
    await demo.getByRole('button', { name: 'Add a part' }).click();
    await demo.getByTestId(`kind-${kind}`).click();
    await demo.getByLabel('Search the shelf').last().fill(item);
    await demo.getByTestId(`shelf-${item}`).click();
    for (const what of kind === 'bank' ? ['Blocks in series', 'Strings in parallel'] : [])
      await demo.getByRole('radio', { name: `${what}: 1`, exact: true }).click();
    await demo.getByRole('button', { name: 'Add to the Line' }).click();
  };
  await add('controllers', 'Brackwell T60-150');
  await demo.getByRole('link', { name: /^Survey/ }).click();
  // The array that waited for a controller has it now.
  await expect(demo.getByText('no controller chosen')).toHaveCount(0);
  await add('bank', 'Ostrum Gel 12-130');
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await expect(demo.getByText('12 V bus')).toBeVisible();

  taps = 0;
  await tap(demo.getByTestId('station-controller'));
  await tap(demo.getByRole('button', { name: 'Copy the whole branch' }));
  await expect(demo.getByText('Brackwell T60-150 2').first()).toBeVisible();
  expect(taps).toBeLessThanOrEqual(3);
});
