import { readdirSync, readFileSync } from 'node:fs';
import { expect, openSite, show, test } from './demo';

const FOLDER = new URL('../demo/sites/', import.meta.url);
interface DemoFile {
  site: { name: string };
  system: Record<string, { id?: string; label?: string }[] | { id?: string } | number | null>;
  proposals?: { id: string }[];
}
const SITES = readdirSync(FOLDER).map((file) => JSON.parse(readFileSync(new URL(file, FOLDER), 'utf8')) as DemoFile);

/** camelCase and snake_case but for units, acronyms written small, types as the file has them. */
const RAW =
  /\b(?!kWh|kW\b|kVA|kA\b|mA\b|mF\b|mV\b|mAh|mohm)[a-z]+[A-Z]\w*|\b[A-Za-z]+_\w+|\b(mppt|pwm|agm|lfp|nmc|nh|cca|dc-dc|class-t|thermal-breaker|same-end|sealed-vented-box|load-disconnect|undefined|NaN)\b/g;

const partsOf = ({ system }: DemoFile) =>
  Object.entries(system).flatMap(([kind, value]) =>
    (Array.isArray(value) ? value : value && typeof value === 'object' ? [value] : []).map((part) => ({
      kind,
      id: part.id ?? '',
      label: 'label' in part ? (part.label ?? '') : '',
    })),
  );

test('@phone no id, path or word of the file on any screen of any demo site', async ({ demo }) => {
  test.setTimeout(180_000);
  const found = new Set<string>();
  // A part of each kind is enough: all of one kind have one editor.
  const kinds = new Set<string>();
  for (const file of SITES) {
    const parts = partsOf(file);
    const labels = JSON.stringify(parts.map(({ label }) => label));
    const ids = parts.map(({ id }) => id).filter((id) => /[-\d]/.test(id) && !labels.includes(id));
    await demo.goto('/');
    await openSite(demo, file.site.name);
    const site = new URL(demo.url()).pathname;
    const own = parts.filter(({ kind }) => !kinds.has(kind) && kinds.add(kind));
    // The screens are the same for all: those of two sites are enough, with what each site alone has.
    const screens = [
      '/plan',
      '/walk',
      '/day',
      '/history',
      '/schools',
      '/plan/interim',
      '/plan/convert',
      '/year',
      '/install',
      '/service',
      '/visits',
    ];
    const paths = [
      '',
      '/check',
      ...(SITES.indexOf(file) < 2 ? screens : []),
      ...own.map(({ id }) => `/part/${encodeURIComponent(id)}`),
      ...(file.proposals ?? []).slice(0, 1).flatMap(({ id }) => [`/plan/${id}`, `/install/${id}`]),
    ];
    for (const path of paths) {
      await show(demo, `${site}${path}`);
      await demo.waitForTimeout(250);
      if (path === '/check')
        await demo
          .getByText(/\d+ checks? OK$/)
          .last()
          .click();
      for (const hidden of path.startsWith('/part') ? await demo.getByRole('button', { name: 'Show all' }).all() : [])
        await hidden.click();
      const text = await demo.evaluate(() => document.body.innerText);
      for (const word of text.match(RAW) ?? []) found.add(`${file.site.name}${path}: ${word}`);
      for (const word of text.split(/[\s,;:()"'\u2019]+/))
        if (ids.includes(word)) found.add(`${file.site.name}${path}: the id ${word}`);
    }
  }
  expect([...found]).toEqual([]);
});

test('@phone on the Line no figure is cut and no row runs into the next, from 320 to 430 px', async ({ demo }) => {
  test.setTimeout(120_000);
  for (const { site } of SITES) {
    await demo.goto('/');
    await openSite(demo, site.name);
    for (const width of [320, 360, 390, 430]) {
      await demo.setViewportSize({ width, height: 844 });
      await demo.waitForTimeout(150);
      const cut = await demo.evaluate((width) => {
        const line = document.querySelector('[data-testid=line]')!;
        const wrong: string[] = [];
        for (const figure of line.querySelectorAll<HTMLElement>('[data-testid=figure]')) {
          const { right } = figure.getBoundingClientRect();
          if (figure.scrollWidth > figure.clientWidth + 1 || right > width) wrong.push(figure.innerText);
        }
        for (const row of line.querySelectorAll<HTMLElement>('[role=button]')) {
          const inner = row.firstElementChild as HTMLElement | null;
          if (inner && inner.offsetHeight > row.parentElement!.offsetHeight + 1)
            wrong.push(
              `${row.getAttribute('aria-label')}: ${inner.offsetHeight} in ${row.parentElement!.offsetHeight}`,
            );
        }
        return wrong;
      }, width);
      expect(cut, `${site.name} at ${width} px`).toEqual([]);
    }
  }
});

test('@phone an address of an earlier version leads to where its page is now', async ({ demo }) => {
  const [file] = SITES.filter(({ proposals }) => (proposals ?? []).length > 0);
  const proposal = file?.proposals?.[0]?.id ?? '';
  await openSite(demo, file?.site.name ?? '');
  const site = new URL(demo.url()).pathname;
  for (const [old, now] of [
    [`/prove?of=${proposal}`, `/service?of=${proposal}`],
    ['/work', '/install'],
    [`/work/${proposal}`, `/install/${proposal}`],
  ]) {
    await demo.goto(`${site}${old}`);
    await expect(demo).toHaveURL((url) => `${url.pathname}${url.search}` === `${site}${now}`);
  }
});
