import { expect, importCopy, openSite, pad, test } from './demo';

test('@phone a state is chosen at the head of the Line: what is off in it is drawn so', async ({ demo }) => {
  await openSite(demo, 'Whelk Bank research raft');
  // Opens in the worst of its states; everything on is one chip more.
  await demo.getByRole('radio', { name: 'Everything on' }).first().click();
  await expect(demo.getByTestId('load-lamps').first()).not.toContainText('off');
  await demo.getByRole('radio', { name: 'Nobody aboard' }).first().click();
  await expect(demo.getByTestId('load-lamps').first()).toContainText('off');
  await expect(demo.getByTestId('load-lab').first()).not.toContainText('off');
  await demo.getByRole('link', { name: /^Check/ }).click();
  await expect(demo.getByRole('link', { name: 'Check: none over' })).toBeVisible();
  await demo.getByRole('radio', { name: 'Everything on' }).first().click();
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await expect(demo.getByTestId('load-lamps').first()).not.toContainText('off');
});

test('@phone a switch goes on its cable and is judged there; a state of its own leaves it out', async ({ demo }) => {
  await importCopy(demo, `Switched ${Date.now() % 10000}`);
  const save = () => demo.getByRole('button', { name: 'Save' }).click();
  const answer = async (field: string, choice: string) => {
    await demo.getByTestId(`field-${field}`).click();
    await demo.getByRole('radio', { name: choice, exact: true }).click();
    await save();
  };
  const begin = async (kind: string) => {
    await demo.getByRole('link', { name: /^Survey/ }).click();
    await demo.getByRole('button', { name: 'Add a part' }).click();
    await demo.getByTestId(`kind-${kind}`).click();
  };
  const done = () => demo.getByRole('button', { name: 'Add to the Line' }).click();
  await begin('switches');
  await expect(demo.getByText('Still needed: on the cable.')).toBeVisible();
  await answer('runId', 'Roof to controller');
  await demo.getByTestId('field-rating_A').click();
  await pad(demo, '5');
  await save();
  await done();
  // Drawn on its cable with its verdict: the array brings more than 5 A.
  await demo.getByRole('link', { name: /^Survey/ }).click();
  const lever = demo.getByRole('button', { name: /^Isolator, / });
  await expect(lever).toContainText('Over');
  await lever.click();
  await answer('end', 'at Roof array');
  await expect(demo.getByTestId('field-end')).toContainText('at Roof array');

  await begin('states');
  await demo.getByTestId('field-label').click();
  await demo.getByLabel('Text').fill('Night');
  await save();
  await demo.getByTestId('field-off').click();
  await demo.getByRole('checkbox', { name: 'Roof array', exact: true }).click();
  await save();
  await expect(demo.getByTestId('field-off')).toContainText('Roof array');
  await done();
  await demo.getByRole('link', { name: /^Survey/ }).click();
  await demo.getByRole('radio', { name: 'Night' }).first().click();
  await expect(lever).toContainText('off');
  await expect(demo.getByTestId('station-roof').first()).toContainText('off');
  await demo.reload();
  await expect(demo.getByRole('radio', { name: 'Night' }).first()).toBeVisible();
});
