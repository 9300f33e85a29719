import { CHEMISTRY, isLithium, type Chemistry } from '../chemistry/chemistry';
import type { PartKind } from '../system/parts';

/** Cautions that are always shown where they apply; there is no switch for them. */
export const CAUTIONS = {
  codes:
    "These checks help a competent person. They do not replace local codes, the maker's manual or a licensed electrician where the law asks for one.",
  panelsLive:
    'Panels are live whenever there is light. Cover or isolate, measure, and do not pull connectors under load.',
  bankAmps:
    'A bank can deliver thousands of amperes: no rings, insulated tools, caps on terminals, one pole at a time.',
  gas: 'Flooded banks give off hydrogen and hold acid: ventilate, goggles, no sparks, neutraliser to hand.',
  coldLithium: 'Never charge lithium cells below their lowest charging temperature.',
  salvaged:
    'Salvaged vehicle modules: no unprotected use; per-cell balancing and protection; keep to the cell voltage window.',
  dcRated:
    "Breakers and fuses on DC must be rated for DC at that voltage and able to interrupt the bank's fault current.",
  heavy: "Batteries are heavy and shift: lift with two people, secure them, check the floor's limit.",
  roof: 'Roof work: weather, edge, ladder, heat.',
  backfeed: 'Never feed a building through a socket. Use a transfer switch that cannot connect both supplies at once.',
  inrush: "Inrush: pre-charge an inverter's capacitors before closing the main switch.",
  chargerLoop: 'A mains charger fed by the inverter that the same bank feeds only drains the bank: switch it off.',
} as const;

export type CautionId = keyof typeof CAUTIONS;

/** By what is there: acid and hydrogen of a flooded bank, the cold of a lithium one, cells out of a vehicle. */
export function cautionApplies(
  id: CautionId,
  bank: { chemistry?: Chemistry | null | undefined; salvaged?: unknown } | null | undefined,
): boolean {
  const chemistry = bank?.chemistry;
  if (id === 'gas') return Boolean(chemistry && CHEMISTRY[chemistry].gassesFreely);
  if (id === 'coldLithium') return Boolean(chemistry && isLithium(chemistry));
  return id !== 'salvaged' || bank?.salvaged === true;
}

/** Cautions that belong to a part, whatever its findings say. */
export function cautionsOf(
  kind: PartKind,
  part: { chemistry?: Chemistry | null | undefined; salvaged?: unknown },
): string[] {
  const byKind: Partial<Record<PartKind, CautionId[]>> = {
    moduleTypes: ['panelsLive'],
    arrays: ['panelsLive', 'roof'],
    bank: ['bankAmps', 'heavy', 'gas', 'coldLithium', 'salvaged'],
    otherBanks: ['bankAmps'],
    inverters: ['inrush', 'backfeed', 'codes'],
    chargers: ['chargerLoop', 'codes'],
    sources: ['backfeed', 'codes'],
    runs: ['dcRated'],
    distribution: ['dcRated'],
  };
  return (byKind[kind] ?? []).filter((id) => cautionApplies(id, part)).map((id) => CAUTIONS[id]);
}
