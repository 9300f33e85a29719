import { expect, importCopy, test } from './demo';

test('@phone a conversion comes whole: what it needs is listed, one is left out, the rest is saved and in the kit', async ({
  demo,
}, { project }) => {
  await importCopy(demo, `Whole ${project.name}`);
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('what-if-convert').click();
  await demo.getByTestId('option').first().click();
  const steps = demo.getByTestId('steps');
  const fuses = steps.getByRole('checkbox').filter({ hasText: 'at the post of each string' });
  await expect(fuses).toBeChecked({ timeout: 30_000 });
  const heat = steps.getByRole('checkbox').filter({ hasText: 'Insulation and heat' });
  await heat.click();
  await expect(heat).not.toBeChecked({ timeout: 30_000 });
  await demo.getByRole('button', { name: 'Save as proposal' }).click();
  const kit = demo.getByTestId('kit');
  await expect(kit).toContainText('Fuse at the post of each string');
  await expect(kit).toContainText('Busbars');
  await expect(kit).not.toContainText('heater');
});

test('@phone what would change it: a module off, judged as it is tapped; nothing is cured by not knowing', async ({
  demo,
}, { project }) => {
  await importCopy(demo, `Change ${project.name}`);
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('what-if-change').click();
  await demo.getByTestId('change-roof').click();
  await demo.getByText('One module fewer', { exact: true }).click();
  await expect(demo.getByTestId('outcome')).toContainText('On the coldest morning the string reaches 154');
  await demo.getByRole('button', { name: 'Another part' }).click();
  await demo.getByTestId('change-cc').click();
  await demo.getByTestId('field-maxPv_V').click();
  await demo.getByRole('button', { name: "Can't read it" }).click();
  await expect(demo.getByTestId('outcome')).toContainText('can no longer be judged');
});

test('@phone an AC load where nothing makes AC leads to an inverter with its cable and fuse', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `No inverter ${project.name}`, (copy) => {
    const file = copy as unknown as {
      proposals: object[];
      system: Record<string, unknown> & { runs: { id: string }[] };
    };
    const stays = new Set(['r-pv', 'r-cc']);
    file.system.inverters = [];
    file.system.loads = [];
    file.system.runs = file.system.runs.filter(({ id }) => stays.has(id));
    file.system.distribution = [];
    file.system.switches = [];
    file.system.states = [];
    file.proposals = [];
  });
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('what-if-load').click();
  const fill = async (field: string, figures: string) => {
    await demo.getByTestId(`field-${field}`).click();
    for (const key of figures) await demo.keyboard.press(key);
    await demo.keyboard.press('Enter');
  };
  await demo.getByTestId('field-label').click();
  await demo.getByRole('dialog').getByRole('textbox').fill('Freezer');
  await demo.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await fill('power_W', '90');
  await fill('hours_d', '8');
  await demo.getByRole('button', { name: 'Add an inverter for it' }).click();
  await fill('continuous_W', '300');
  await expect(demo.getByTestId('its-cable')).toContainText('fuse');
  await demo.getByRole('button', { name: 'Save as proposal' }).click();
  await expect(demo.getByTestId('kit')).toContainText('Inverter');
});

test('@phone rest volts on the bank\u2019s page: a band, and the hours that a load runs', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Rest ${project.name}`);
  await demo.getByTestId('station-gel').click();
  await expect(demo.getByTestId('bank-numbers')).toContainText('usable');
  const rest = demo.getByTestId('rest-and-run');
  for (const [field, figures] of [
    ['rest', '12.4'],
    ['rested', '12'],
    ['watts', '100'],
  ] as const) {
    await rest.getByTestId(`field-${field}`).click();
    for (const key of figures) await demo.keyboard.press(key);
    await demo.keyboard.press('Enter');
  }
  await expect(rest).toContainText(/About \d+\s% full; \d+ to \d+\s%/);
  await expect(rest).toContainText(/100\sW runs .* from here/);
});
