import { faultAt as fault } from '@true-lantern/core/system/faults';
import { modelOf, type Model } from '@true-lantern/core/system/model';
import { roofsOf } from '@true-lantern/core/roof/roof';
import type { SystemFile } from '@true-lantern/core/system/schema';
import { figureOf } from './flags';

/** Seconds for each search: the fit itself, each obstacle away, and all that is asked of one more. */
const SECONDS = { fit: 20, away: 5, short: 10 } as const;
const OFF_DEG = 5;

/** `lantern roof`: what fits, what stands in the way, what shade costs. @throws FaultError for what is not there */
export function roofVerb(
  file: SystemFile,
  { roof, module, state, proposal, heading }: Readonly<Partial<Record<string, string>>>,
  warn: (line: string) => void,
) {
  const model = modelOf(file, proposal);
  const named = [
    ...(model.system.states ?? []).map(({ id }) => id),
    ...(model.system.roofs ?? []).flatMap(({ obstacles }) => (obstacles ?? []).map((one) => one.state)),
  ];
  if (state !== undefined && !named.includes(state))
    throw fault('--state', `is "${state}", expected a state that this file or one of its obstacles names`);
  steeper(model).forEach(warn);
  const ends = new Map<string, number>();
  const clock = (what: keyof typeof SECONDS) => {
    const end =
      what === 'short' ? (ends.get(what) ?? Date.now() + 1000 * SECONDS[what]) : Date.now() + 1000 * SECONDS[what];
    ends.set(what, end);
    return () => Date.now() < end;
  };
  return {
    roofs: roofsOf(model, {
      roof,
      module,
      state,
      heading: heading === undefined ? undefined : figureOf('heading', heading, 0, 0, 360),
      clock,
    }),
  };
}

/** Arrays that do not lie as their roof does: rows that shade each other are left out. */
function steeper({ system }: Model): string[] {
  return (system.roofs ?? []).flatMap((roof, i) =>
    [...new Set((roof.placed ?? []).map(({ arrayId }) => arrayId))].flatMap((id) => {
      const array = (system.arrays ?? []).find((one) => one.id === id);
      const tilt = roof.tilt_deg ?? 0;
      const turned =
        tilt > OFF_DEG && typeof roof.heading_deg === 'number' && typeof array?.azimuth_deg === 'number'
          ? Math.abs(((array.azimuth_deg - roof.heading_deg - 180 + 540) % 360) - 180)
          : 0;
      const off = typeof array?.tilt_deg === 'number' ? Math.abs(array.tilt_deg - tilt) : 0;
      return off > OFF_DEG || turned > OFF_DEG
        ? [`system.roofs[${i}]: ${id} is not parallel to it: rows that shade each other are left out`]
        : [];
    }),
  );
}
