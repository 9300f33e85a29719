import { expect, importCopy, openSite, test } from './demo';

test('@phone the ladder says what gives out first, next and after that', async ({ demo }) => {
  await openSite(demo, 'Corrach bothy refuge');
  await demo.getByRole('link', { name: /^Check/ }).click();
  const note = demo.getByTestId('headroom');
  await expect(note).toContainText('No more load: Ostrum 1200 sine is over. Once that is fixed: 438\u00a0W more.');
  await note.getByRole('button').first().click();
  const ladder = demo.getByTestId('ladder');
  await expect(ladder).toContainText('Already over');
  await expect(ladder).toContainText('+438\u00a0W');
  await note.getByRole('radio', { name: 'Starting surge of 3 times' }).click();
  await expect(ladder).toContainText('+542\u00a0W');
});

test('@phone one part alone, and what one thin cable brings about under one heading', async ({ demo }) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await expect(demo.getByText(/more with the same cause/).first()).toBeVisible();
  const rows = () => demo.locator('[data-testid^="row-"]').count();
  const all = await rows();
  await demo.getByRole('radio', { name: /^Sixteen 6 V blocks/ }).click();
  expect(await rows()).toBeLessThan(all);
  await demo.getByRole('radio', { name: 'All parts' }).click();
  expect(await rows()).toBe(all);
});

test('@phone another school is seen on the finding, and taken for this site', async ({ demo }, { project }) => {
  await importCopy(demo, `School ${project.name}`);
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('row-pv.cold-voltage').first().click();
  const school = demo.getByTestId('school-switch').first();
  await school.getByRole('radio', { name: 'bands' }).click();
  // -24 degC falls in the band of 1.20: 3 x 45.1 x 1.2 = 162.4 V
  await expect(school).toContainText('Over: On the coldest morning the string reaches 162');
  await school.getByRole('button', { name: 'Use here' }).click();
  await expect(demo.getByText(/standard: bands/).first()).toBeVisible();
});

test('@phone shade put on a module by thumb costs what the curve says, and another wiring less', async ({ demo }) => {
  await openSite(demo, 'Corrach bothy refuge');
  await demo.getByTestId('station-roof').first().click();
  await demo.getByRole('button', { name: 'Curves and shade' }).click();
  await expect(demo.getByText(/^705\u00a0W at 110\u00a0V$/)).toBeVisible();
  await demo.getByTestId('module-0.1').click();
  await expect(demo.getByText(/2 maxima/)).toBeVisible();
  await expect(demo.getByTestId('wirings')).toContainText('3 in parallel');
  const watts =
    (await demo.getByTestId('wirings').innerText()).match(/(\d+)\u00a0W/g)?.map((text) => Number.parseInt(text, 10)) ??
    [];
  expect(watts[0]).toBeGreaterThan(watts[1] ?? Infinity);
});

test('@phone the shares of the strings stand on the bank, the first hardest worked where all is tapped at one end', async ({
  demo,
}) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByTestId('station-bank').first().click();
  const shares = demo.getByTestId('shares');
  await expect(shares).toBeVisible();
  const percent = (await shares.innerText()).match(/([\d.]+)\u00a0%/g)?.map(Number.parseFloat) ?? [];
  expect(percent).toHaveLength(4);
  expect(percent[0]).toBe(Math.max(...percent));
  expect(percent.reduce((sum, value) => sum + value, 0)).toBeCloseTo(100, 0);
});

test('@phone a guess that decides a verdict is asked for before the rest, and leads to its field', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Flip ${project.name}`, (file) => {
    (file as unknown as { evidence: Record<string, object> }).evidence['m235.betaVoc_pct_C'] = {
      grade: 'assumed',
      low: -0.34,
      high: -0.2,
    };
  });
  await demo.getByRole('link', { name: /^Check/ }).click();
  const flip = demo.getByTestId('flip').first();
  await expect(flip).toContainText('Tarnlight 235: Voc coefficient: is it sure?');
  await flip.click();
  await expect(demo.getByRole('dialog')).toBeVisible();
});

test('@phone a question without an answer leads to its field from Check as well', async ({ demo }) => {
  await openSite(demo, 'Seal Sound ferry waiting room');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('questions').last().getByText('Pell 2000: apparent power?').click();
  await expect(demo.getByRole('dialog')).toBeVisible();
});
