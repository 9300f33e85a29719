import { expect, test } from './demo';

test('@phone an owner lets somebody in by a link, gives them another role, and lets them go', async ({
  demo,
  browser,
}) => {
  const name = `Nell${Date.now() % 100000}`;
  await demo.goto('/people');
  await demo.getByRole('radio', { name: 'technician' }).last().click();
  await demo.getByRole('button', { name: 'Create link' }).click();
  const address = (await demo.getByTestId('link-address').textContent()) ?? '';
  await expect(demo.getByLabel('QR code of the link')).toBeVisible();
  const context = await browser.newContext({ serviceWorkers: 'block' });
  const guest = await context.newPage();
  await guest.goto(new URL(address).pathname);
  await expect(guest.getByText('Join Saltmarsh & Daughter')).toBeVisible();
  await guest.getByLabel('Your name').fill(name);
  await guest.getByLabel('E-mail').fill(`${name}@saltmarsh.example`);
  await guest.getByLabel('Password (10 characters or more)').fill('short');
  await guest.getByRole('button', { name: 'Join' }).click();
  await expect(guest.getByRole('alert')).toContainText('too short');
  await guest.getByLabel('Password (10 characters or more)').fill('long enough for a boat');
  await guest.getByRole('button', { name: 'Join' }).click();
  await expect(guest.getByLabel('Find a site')).toBeVisible();

  await demo.reload();
  await demo.getByRole('button', { name: `Change ${name}` }).click();
  await demo.getByTestId(`person-${name}`).getByRole('radio', { name: 'reader' }).click();
  await expect(demo.getByTestId(`person-${name}`)).toContainText('reader,');
  await guest.reload();
  await expect(guest.getByRole('button', { name: 'New site' })).toHaveCount(0);
  await demo.getByRole('button', { name: `Remove ${name}` }).click();
  await demo.getByRole('button', { name: 'Remove, keep name' }).click();
  await expect(demo.getByTestId(`person-${name}`)).toHaveCount(0);
  await guest.reload();
  await expect(guest.getByLabel('E-mail')).toBeVisible();
  await context.close();
});

test('@phone where one is signed in; another password ends the other sessions', async ({ demo }) => {
  await demo.goto('/you');
  await expect(demo.getByTestId('session').filter({ hasText: 'Here' })).toHaveCount(1);
  await demo.getByLabel('Current password').fill('not this one');
  await demo.getByLabel('New password (10 characters or more)').fill('long enough for a boat');
  await demo.getByRole('button', { name: 'Change password' }).click();
  await expect(demo.getByRole('alert')).toContainText('The current password is wrong.');
});

test('@phone a passkey is added, opens the door once signed out, and is taken off', async ({ page, baseURL }) => {
  // A key is bound to a name, and an address in figures is none.
  const home = (baseURL ?? '').replace('127.0.0.1', 'localhost');
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('WebAuthn.enable');
  await cdp.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await page.goto(home);
  await page.getByRole('button', { name: 'Look around the demo' }).click();
  await expect(page.getByLabel('Find a site')).toBeVisible();
  await page.goto(`${home}/you`);
  await page.getByRole('button', { name: 'Add a passkey' }).click();
  await expect(page.getByTestId('passkey')).toContainText('not used yet');
  await page.goto(home);
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(page.getByLabel('Find a site')).toBeVisible();
  await page.goto(`${home}/you`);
  await expect(page.getByTestId('passkey')).toContainText('last used');
  await page.getByRole('button', { name: /^Remove/ }).click();
  await expect(page.getByTestId('passkey')).toHaveCount(0);
});
