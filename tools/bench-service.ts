import {
  aheadOf,
  dueOf,
  faultsOf,
  handOver,
  makePaper,
  METRIC,
  modelOf,
  roofsOf,
  trendsOf,
  type PaperAsked,
  type Reading,
  type Roof,
  type SystemFile,
} from '@true-lantern/core';
import { shadeOf } from '@true-lantern/core/roof/shade-of';
import { dayFrom, dateOf } from '@true-lantern/core/service/days';
import { handOverPage } from '../server/src/reports/handover-page';
import { pdfOf } from '../server/src/reports/pdf';

type Measure = [what: string, ms: number, target: string];

const ON = dayFrom('2026-12-01') ?? 0;

/**
 * What looking after a system costs: trends, what is due, the days ahead, a fault ranking, a roof, papers.
 * @param median of many runs, ms
 */
export async function benchService(
  median: (act: () => unknown, runs: number) => number,
  { raft, lead, van }: Record<'raft' | 'lead' | 'van', SystemFile>,
): Promise<Measure[]> {
  const model = modelOf(raft);
  const many = withReadings(raft, 2000);
  const page = handOver(lead, ON);
  const words = { call: '', lights: '', more: '' };
  const head = { name: 'Saltmarsh', address: '', logo: null, day: '2026-12-01' };
  const asked = (kind: PaperAsked['kind'], about: string) => ({
    kind,
    about,
    file: lead,
    firm: { name: 'Saltmarsh' },
    day: '2026-12-01',
    units: METRIC,
    shelf: [],
    terms: { firm: 'Saltmarsh', tax_pct: 20 },
  });
  const proposal = lead.proposals?.[0]?.id ?? '';
  // Another height each time, so that nothing of the shade is known from before.
  let height_mm = 500;
  const timed = async (act: () => Promise<unknown>) => {
    await act();
    const from = performance.now();
    await act();
    return performance.now() - from;
  };
  const long = withReadings(raft, 6000);
  return [
    ['trends of 2,000 readings', median(() => trendsOf(many, ON), 5), 'under 50 ms'],
    ['what is due at 1,000 sites, one after another', 1000 * median(() => dueOf(raft, ON, 30), 100), 'under 200 ms'],
    [
      'the next 7 days over 200 weathers',
      median(() => aheadOf(model, { on: ON, soc: 0.6, days: 7, draws: 200 }), 20),
      'under 50 ms on one core',
    ],
    [
      'a fault ranking with its next readings',
      median(() => faultsOf(model, (raft.readings ?? []).slice(-12)), 5),
      'under 50 ms here: 200 ms on a phone of a quarter of the speed',
    ],
    [
      'a camper van\u2019s roof: what fits, away, short, the year\u2019s shade',
      median(() => roofsOf(modelOf(van)), 5),
      'under 300 ms for the shade',
    ],
    [
      'the year\u2019s shade on twelve modules among ten poles, the best grouping too',
      median(() => shadeAmongPoles(van, (height_mm += 1)), 9),
      'under 300 ms',
    ],
    ['a hand-over page', median(() => handOverPage({ page, words }, head, 'https://example.org/h'), 50), 'under 30 ms'],
    ['the blocks of an offer, with 50 years twice', median(() => makePaper(lead, asked('offer', proposal)), 3), ''],
    ['an offer as PDF', await timed(() => pdfOf(asked('offer', proposal))), 'under 1 s'],
    [
      'a log of some 130 pages as PDF',
      await timed(() => pdfOf({ ...asked('log', '2025'), file: long })),
      'a hundred pages under 5 s',
    ],
  ];
}

/** A level roof with three strings of four modules, and ten poles of which each throws its shadow elsewhere. */
function shadeAmongPoles(van: SystemFile, height_mm: number): void {
  const { site, system } = van;
  const [array] = system.arrays ?? [];
  const type = array?.strings[0]?.[0] ?? '';
  if (!array) throw new Error('The van has no array');
  const roof: Roof = {
    id: 'bench',
    heading_deg: 180,
    tilt_deg: 0,
    outline_mm: [
      [0, 0],
      [5700, 0],
      [5700, 7000],
      [0, 7000],
    ],
    obstacles: Array.from({ length: 10 }, (_, k) => ({
      id: `pole-${k}`,
      kind: 'mast' as const,
      circle_mm: [150 + ((k * 577) % 5400), 2100 + 2200 * (k % 2), 40] as [number, number, number],
      height_mm: height_mm + 150 * k,
    })),
    placed: Array.from({ length: 12 }, (_, k) => ({
      arrayId: array.id,
      string: Math.floor(k / 4),
      index: k % 4,
      x: 200 + (k % 4) * 1300,
      y: 200 + Math.floor(k / 4) * 2200,
    })),
  };
  const strings = Array.from({ length: 3 }, () => Array.from({ length: 4 }, () => type));
  const still = {
    ...van,
    site: { ...site, kind: 'hut' as const },
    system: { ...system, roofs: [roof], arrays: [{ ...array, strings }] },
  };
  const shade = shadeOf(modelOf(still), roof, roof.obstacles ?? [], null, undefined);
  if ('missing' in shade) throw new Error(`No shade: ${shade.missing.join(', ')}`);
}

/** The same site with so many readings more, over six years. */
function withReadings(file: SystemFile, count: number): SystemFile {
  const series = (file.readings ?? []).slice(0, 20);
  const readings = Array.from({ length: count }, (_, i): Reading => {
    const one = series[i % series.length] ?? { id: '', subject: 'site', quantity: 'rest_V', value: 0 };
    // Six years for trends; a log of one year for its paper.
    const day = count > 2000 ? (dayFrom('2025-01-01') ?? 0) : ON - 2200;
    const span = count > 2000 ? 365 : 2200;
    return { ...one, id: `bench-${i}`, at: `${dateOf(day + Math.floor((i * span) / count))}T10:00:00Z` };
  });
  return { ...file, readings };
}
