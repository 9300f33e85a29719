import { expect, importCopy, openSite, test } from './demo';

test('a finding opens to its working, what it rests on, its caution and its verified cures', async ({ demo }) => {
  await openSite(demo, 'Corrach bothy refuge');
  await demo.getByRole('link', { name: /^Check: 5 over/ }).click();
  await demo.getByTestId('row-pv.cold-voltage').first().click();
  const finding = demo.getByTestId('finding-pv.cold-voltage');
  await expect(finding).toContainText('open string: 3 \u00d7 45.1\u00a0V \u00d7 1.1372 = 153.9\u00a0V');
  await expect(finding).toContainText('Tarnlight 235: Voc coefficient');
  await expect(finding).toContainText('Panels are live whenever there is light.');
  await expect(demo.getByText('Controller for 175\u00a0V or more')).toBeVisible();
});

test('@phone a sound system is quiet', async ({ demo }) => {
  await openSite(demo, 'Whelk Bank research raft');
  await demo.getByRole('link', { name: /^Check: none over/ }).click();
  await expect(demo.getByText('Nothing is over or tight.')).toBeVisible();
});

test('@phone two more modules: layouts, one saved as a proposal on the Line, the survey untouched, all there after a reload', async ({
  demo,
}, { project }) => {
  await importCopy(demo, `What if ${project.name}`);
  await demo.getByRole('link', { name: /^Plan: 3/ }).click();
  await demo.getByTestId('what-if-modules').click();
  // The bank is charged with too much already: what brings more stands behind what does not, and says so.
  const best = demo.getByTestId('layout').first();
  await expect(best).toContainText('3 in parallel');
  await expect(best).toContainText('2 left over');
  await expect(demo.getByTestId('none-more')).toBeVisible();
  const more = demo.getByTestId('layout').filter({ hasText: '2 in series, 2 strings' }).first();
  await expect(more).toContainText('1 left over');
  await more.click();
  await demo.getByRole('button', { name: 'Save as proposal' }).click();
  await expect(demo.getByTestId('comparison')).toHaveText(
    'Fixes 1 \u00b7 causes 1 new \u00b7 1 made worse \u00b7 3 still over',
  );
  await demo.reload();
  await expect(demo.getByTestId('comparison')).toBeVisible();
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await expect(demo.getByTestId('station-roof').first()).toContainText('3 \u00d7 235 W');
});

test('@phone a remedy is tried as a proposal and cures what it promised', async ({ demo }, { project }) => {
  await importCopy(demo, `Try ${project.name}`);
  await demo.getByRole('link', { name: /^Check/ }).click();
  await demo.getByTestId('row-pv.cold-voltage').first().click();
  await demo.getByRole('button', { name: 'Try: Controller for 175 V or more' }).click();
  await expect(demo.getByTestId('comparison')).toHaveText('Fixes 1 \u00b7 causes none \u00b7 4 still over');
  await demo.getByRole('button', { name: 'Remove proposal' }).click();
  await expect(demo.getByText('Controller for 175 V or more', { exact: true })).toHaveCount(0);
});
