import { expect, test } from './demo';

/** Every paper of a site is one tap from its list, says the same off line, and comes as a PDF. */

test('@phone papers: the list, a report as a page, off line too, and an offer with two options as a PDF', async ({
  demo,
  context,
}) => {
  await demo.getByTestId('site-Corrach bothy refuge').click();
  const site = /site\/([^/]+)/.exec(demo.url())?.[1] ?? '';
  await demo.goto(`/site/${site}/more`);
  await demo.getByTestId('more-papers').click();
  await demo.getByRole('link', { name: 'Survey report' }).click();
  const report = demo.getByTestId('paper-survey');
  await expect(report).toContainText('45.1\u00a0V (nameplate)', { timeout: 15_000 });
  await context.setOffline(true);
  await demo.getByRole('button', { name: 'Back' }).click();
  await demo.getByRole('link', { name: 'Check report' }).first().click();
  await expect(demo.getByTestId('paper-check')).toContainText('153.9\u00a0V against 150\u00a0V', { timeout: 20_000 });
  await context.setOffline(false);
  await demo.getByRole('button', { name: 'Back' }).click();
  // Three are chosen at first; one is let go.
  await demo.getByRole('checkbox', { name: 'Radio relay that may never go dark' }).click();
  await demo.getByRole('button', { name: 'Offer with 2 options' }).click();
  const offer = demo.getByTestId('paper-offer');
  await expect(offer).toContainText('B: Two in series, third set aside', { timeout: 20_000 });
  await expect(offer).not.toContainText('Radio relay');
  const opened = context.waitForEvent('request', (request) => request.url().includes('/papers/offer/'));
  await demo.getByTestId('pdf-offer').click();
  const address = (await opened).url();
  const pdf = await context.request.get(address);
  expect(pdf.headers()['content-type']).toBe('application/pdf');
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-');
});
