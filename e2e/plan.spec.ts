import { expect, importCopy, openSite, test, troublesOn, hardToReach } from './demo';

test('@phone a replacement: each line opens to its working, the shelf is tried, one is saved', async ({ demo }, {
  project,
}) => {
  await importCopy(demo, `Successor ${project.name}`);
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('what-if-replace').click();
  await demo.getByTestId('replace-cc').click();
  const spec = demo.getByTestId('spec');
  await expect(spec).toContainText('at least 175\u00a0V');
  await spec.getByText('PV voltage').click();
  await expect(spec).toContainText('open string: 3 \u00d7 45.1\u00a0V \u00d7 1.1372 = 153.9\u00a0V');
  const first = demo.getByTestId('meets').first();
  await expect(first).toContainText('Brackwell T85-250', { timeout: 20_000 });
  await first.click();
  await demo.getByTestId('candidates').getByRole('button', { name: 'Save as proposal' }).click();
  await expect(demo.getByTestId('comparison')).toContainText('Fixes 1');
  await expect(demo.getByTestId('kit')).toContainText('Brackwell T85-250');
  await expect(demo.getByTestId('kit')).toContainText('612');
  // What it leaves over leads on: a replacement for that part, upon this proposal.
  await demo.getByText('find a replacement', { exact: true }).first().click();
  await expect(demo.getByTestId('on-what')).toContainText('Brackwell T85-250');
});

test.describe('in a shop', () => {
  test.use({ serviceWorkers: 'allow' });

  test('@phone at the counter, without a signal: line by line, and what was typed is there after a reload', async ({
    demo,
  }, { project }) => {
    await importCopy(demo, `Counter ${project.name}`);
    await demo.getByRole('link', { name: /^Plan/ }).click();
    await demo.getByTestId('what-if-replace').click();
    await demo.getByTestId('replace-mon').click();
    await demo.getByRole('button', { name: 'Check a product' }).click();
    await expect(demo.getByTestId('counter-verdict')).toContainText('left');
    await demo.evaluate(async () => {
      await navigator.serviceWorker.ready;
    });
    await demo.reload();
    await expect(demo.getByTestId('counter-verdict')).toContainText('left');
    await demo.context().setOffline(true);
    await demo.getByLabel('Shunt, A').fill('100');
    await expect(demo.getByTestId('counter-verdict')).toContainText('Do not buy: 1 line fails');
    await demo.getByLabel('Shunt, A').fill('500');
    await expect(demo.getByTestId('counter-shunt_A')).toContainText('passes');
    await expect(demo.getByTestId('counter-verdict')).toContainText('none fails yet');
    await demo.reload();
    await expect(demo.getByLabel('Shunt, A')).toHaveValue('500', { timeout: 20_000 });
    for (const group of await demo.getByRole('radiogroup').all())
      await group.getByRole('radio', { name: 'yes' }).click();
    await expect(demo.getByTestId('counter-verdict')).toContainText('It meets every requirement');
    await demo.getByRole('button', { name: 'Save as proposal' }).click();
    await expect(demo.getByTestId('comparison')).toBeVisible();
    await demo.context().setOffline(false);
  });
});

test('@phone the voltage raised is a proposal; a second what-if is built upon it', async ({ demo }, { project }) => {
  await importCopy(demo, `Voltage ${project.name}`);
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('what-if-voltage').click();
  await demo.getByRole('radio', { name: '12 to 24 V' }).click();
  await expect(demo.getByTestId('currents')).toContainText('\u2192');
  await demo.getByRole('button', { name: 'Save as proposal' }).click();
  await expect(demo.getByTestId('line')).toContainText('24 V');
  await demo.getByRole('button', { name: /^Build on this proposal/ }).click();
  await demo.getByTestId('what-if-load').click();
  await expect(demo.getByTestId('on-what')).toContainText('From 12 to 24 V');
});

test('@phone until parts arrive: limits that were searched for, and what stays off', async ({ demo }) => {
  await openSite(demo, 'Corrach bothy refuge');
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('interim').click();
  // What alone charges the bank is not switched off: its string gets a module shorter.
  await expect(demo.getByTestId('interim')).toContainText('leave 1 of the 3 modules in the string out', {
    timeout: 15_000,
  });
  await expect(demo.getByTestId('interim')).toContainText('What these limits prevent');
  await demo.goto('/');
  await openSite(demo, 'Seal Sound ferry waiting room');
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('interim').click();
  await expect(demo.getByTestId('interim')).toContainText('no more than 800\u00a0W at once', { timeout: 15_000 });
});

test('@phone a survey that changes underneath is shown at the change, and the change can be taken out', async ({
  demo,
}, { project }) => {
  await importCopy(demo, `Rebase ${project.name}`, (file: Record<string, unknown>) => {
    file.proposals = [
      {
        id: 'p-mine',
        title: 'Two changes',
        changes: [
          { op: 'set', at: 'inverters', id: 'inv', value: { continuous_W: 2000 }, was: { continuous_W: 900 } },
          { op: 'set', at: 'controllers', id: 'cc', value: { maxPv_V: 250 } },
        ],
      },
    ];
  });
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('proposal-p-mine').click();
  await expect(demo.getByTestId('rebase')).toContainText('The survey has changed since this proposal was made');
  await expect(demo.getByTestId('change').first()).toContainText('was 900 when this was made, surveyed 1200 since');
  await demo.getByRole('button', { name: 'Use the new survey as the base' }).click();
  await expect(demo.getByTestId('rebase')).toHaveCount(0);
  await demo.getByRole('button', { name: 'Remove change 2' }).click();
  await expect(demo.getByTestId('change')).toHaveCount(1);
  await demo.getByRole('button', { name: 'Undo' }).click();
  await expect(demo.getByTestId('change')).toHaveCount(2);
});

test('@phone money: what is spent, and when a proposal has earned itself back', async ({ demo }) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('money').click();
  await expect(demo.getByTestId('life-lfp')).toContainText('a usable kWh', { timeout: 15_000 });
  // 70 h x 0.4 L x 1.85 + 70 x 0.60, as the year itself has it
  await expect(demo.getByTestId('spent')).toContainText('93.8');
});

test('@desk side by side: a column is dragged beside another, by mouse and by keys', async ({ demo }) => {
  await openSite(demo, 'Corrach bothy refuge');
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByRole('button', { name: 'Compare', exact: true }).click();
  const heads = demo.locator('[data-testid^="column-"]');
  await expect(heads).toHaveCount(4);
  await expect(demo.getByTestId('compare')).toContainText('Worst month');
  const ids = () => heads.evaluateAll((all) => all.map((one) => one.getAttribute('data-testid')));
  const before = await ids();
  const from = await heads.nth(3).boundingBox();
  const to = await heads.nth(1).boundingBox();
  await demo.mouse.move(from!.x + 40, from!.y + 20);
  await demo.mouse.down();
  await demo.mouse.move(to!.x + 60, to!.y + 20, { steps: 12 });
  await demo.mouse.up();
  await expect.poll(ids).toEqual([before[0], before[3], before[1], before[2]]);
  // Every column has its figures: nothing is drawn anew while the keys are at work.
  await expect(demo.getByTestId('compare')).not.toContainText('\u2026', { timeout: 20_000 });
  const id = (at: number) => before[at]?.replace('column-', '') ?? '';
  const said = demo.locator('[id^="DndLiveRegion"]');
  await heads.nth(1).focus();
  await demo.keyboard.press('Space');
  await expect(said).toContainText(`over droppable area ${id(3)}`);
  // A key that comes before the columns are measured is lost; what is said tells where it stands.
  await expect(async () => {
    const text = (await said.textContent()) ?? '';
    if (text.includes(`area ${id(3)}`)) await demo.keyboard.press('ArrowRight');
    else if (text.includes(`area ${id(2)}`)) await demo.keyboard.press('ArrowLeft');
    await expect(said).toContainText(`over droppable area ${id(1)}`, { timeout: 1500 });
  }).toPass({ timeout: 20_000 });
  await demo.keyboard.press('Space');
  await expect.poll(ids).toEqual([before[0], before[1], before[3], before[2]]);
});

test('@desk the paper prints the sheet alone, black on white', async ({ demo }) => {
  await openSite(demo, 'Gannet Ledge bird observatory');
  await demo.getByRole('link', { name: /^Plan/ }).click();
  await demo.getByTestId('proposal-p-lfp').click();
  await demo.getByRole('button', { name: 'Paper for the customer' }).click();
  const paper = demo.getByTestId('paper');
  await expect(paper).toContainText('Saltmarsh & Daughter');
  await expect(paper).toContainText('To buy');
  await expect(demo.getByTestId('paper-settings')).toContainText('absorption');
  await expect(paper).toContainText('name, date, signature');
  await demo.emulateMedia({ media: 'print' });
  await expect(demo.getByTestId('print')).toBeHidden();
  // In print the sheet has its own length: nothing is cut off by the window.
  const height = await paper.evaluate((sheet) => [sheet.scrollHeight, document.documentElement.scrollHeight]);
  expect(height[1]).toBeGreaterThanOrEqual(height[0] ?? 0);
  const pdf = await demo.pdf({ format: 'A4' });
  const pages = pdf.toString('latin1').match(/\/Type\s*\/Page[^s]/g)?.length ?? 0;
  expect(pages).toBeGreaterThan(1);
});

test('@phone nothing on the screens of Plan is hard to make out or to reach', async ({ demo }) => {
  test.setTimeout(120_000);
  await openSite(demo, 'Corrach bothy refuge');
  const site = new URL(demo.url()).pathname;
  const paths = [
    `${site}/plan/replace`,
    `${site}/plan/replace?part=cc`,
    `${site}/plan/counter?part=inv`,
    `${site}/plan/voltage`,
    `${site}/plan/modules`,
    `${site}/plan/source`,
    `${site}/plan/cable`,
    `${site}/plan/interim`,
    `${site}/plan/money`,
    `${site}/plan/compare`,
    `${site}/plan/p-two`,
    `${site.replace('/site/', '/paper/')}/p-two`,
  ];
  expect(await troublesOn(demo, paths)).toEqual([]);
});

test('@phone a customer accepts by a link: read and signed in another browser, told on the open phone', async ({
  demo,
  browser,
}) => {
  await importCopy(demo, `By link ${Date.now() % 10000}`, (file) => {
    (file as unknown as { proposals: object[] }).proposals = [
      { id: 'p1', title: 'A larger bank', changes: [{ op: 'set', at: 'bank', id: 'gel', value: { parallel: 2 } }] },
    ];
  });
  const site = demo.url().replace(/\/$/, '');
  await demo.goto(`${site}/plan/p1`);
  await demo.getByRole('button', { name: 'Customer accepts' }).click();
  await demo.getByRole('button', { name: 'Share link' }).click();
  const address = await demo
    .getByTestId('offer-address')
    .getByText(/\/o\/[\w-]{20,}/)
    .innerText();
  expect(await hardToReach(demo)).toEqual([]);
  // The customer: nobody's session, a phone of their own.
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  const troubles: string[] = [];
  page.on('console', (message) => message.type() === 'error' && troubles.push(message.text()));
  await page.goto(new URL(address).pathname);
  await expect(page.getByRole('heading', { name: 'A larger bank' })).toBeVisible();
  await page.getByLabel('Your name').fill('M. Sand');
  const canvas = page.locator('canvas');
  await canvas.scrollIntoViewIfNeeded();
  const pad = (await canvas.boundingBox())!;
  await page.mouse.move(pad.x + 20, pad.y + 40);
  await page.mouse.down();
  await page.mouse.move(pad.x + 160, pad.y + 70, { steps: 8 });
  await page.mouse.up();
  expect(await hardToReach(page)).toEqual([]);
  await page.getByRole('button', { name: 'Accept the offer' }).click();
  await expect(page.getByRole('status')).toContainText('Accepted by M. Sand');
  expect(troubles).toEqual([]);
  await context.close();
  await expect(demo.getByTestId('accepted')).toContainText('Accepted by M. Sand', { timeout: 15_000 });
  await expect(demo.getByTestId('accepted')).toContainText('Signed on the page of the offer');
});

test('@phone a customer accepts on the phone: name and signature, the whole offer kept, nothing of it edited afterwards', async ({
  demo,
}) => {
  await importCopy(demo, `Accepted ${Date.now() % 10000}`, (file) => {
    (file as unknown as { proposals: object[] }).proposals = [
      { id: 'p1', title: 'A larger bank', changes: [{ op: 'set', at: 'bank', id: 'gel', value: { parallel: 2 } }] },
    ];
  });
  const site = demo.url().replace(/\/$/, '');
  await demo.goto(`${site}/plan/p1`);
  await demo.getByRole('button', { name: 'Customer accepts' }).click();
  const accept = demo.getByRole('button', { name: 'Accept', exact: true });
  await expect(accept).toBeDisabled();
  await demo.getByLabel('Customer’s name').fill('M. Sand');
  await demo.getByTestId('signature').scrollIntoViewIfNeeded();
  const pad = (await demo.getByTestId('signature').boundingBox())!;
  await demo.mouse.move(pad.x + 20, pad.y + 40);
  await demo.mouse.down();
  await demo.mouse.move(pad.x + 120, pad.y + 70, { steps: 8 });
  await demo.mouse.up();
  await accept.click();
  await expect(demo.getByTestId('accepted')).toContainText('Accepted by M. Sand');
  await expect(demo.getByRole('button', { name: 'Remove proposal' })).toHaveCount(0);
  await expect(demo.getByRole('button', { name: 'Rename' })).toHaveCount(0);
  await demo.waitForTimeout(1500);
  await demo.reload();
  await expect(demo.getByTestId('accepted')).toContainText('M. Sand', { timeout: 15_000 });
  await demo.getByRole('button', { name: 'Paper for the customer' }).click();
  await expect(demo.getByTestId('paper').getByTestId('accepted')).toBeVisible();
});
