import { CHEMISTRY, cellsPerBlock } from '../chemistry/chemistry';
import type { System } from './schema';

/** Pairs of facts that cannot both be right but are accepted: the sentence goes to standard error and the screen. */
export function warningsOf(system: System): string[] {
  const warnings: string[] = [];
  (system.moduleTypes ?? []).forEach((module, i) => {
    const path = `system.moduleTypes[${i}]`;
    if (module.isc_A < module.imp_A)
      warnings.push(`${path}.isc_A: is ${module.isc_A} A, below imp_A ${module.imp_A} A, expected Isc above Imp`);
    const product = module.vmp_V * module.imp_A;
    if (Math.abs(product / module.pmax_W - 1) > 0.05)
      warnings.push(
        `${path}.pmax_W: is ${module.pmax_W} W, but ${module.vmp_V} V x ${module.imp_A} A is ${product.toFixed(0)} W, expected the two to agree`,
      );
    if (module.voc_V < module.vmp_V)
      warnings.push(`${path}.voc_V: is ${module.voc_V} V, below vmp_V ${module.vmp_V} V, expected Voc above Vmp`);
  });
  (system.inverters ?? []).forEach((inverter, i) => {
    const { surge_W, continuous_W } = inverter;
    if (surge_W && surge_W < continuous_W)
      warnings.push(
        `system.inverters[${i}].surge_W: is ${surge_W} W, below continuous_W ${continuous_W} W, expected the surge above it`,
      );
  });
  (system.arrays ?? []).forEach((array, i) => {
    const { stringFuse_A, stringProtection } = array;
    const read = stringProtection?.type === 'none' ? null : stringProtection?.rating_A;
    if (stringFuse_A && read && stringFuse_A !== read)
      warnings.push(
        `system.arrays[${i}].stringProtection.rating_A: is ${read} A, but stringFuse_A is ${stringFuse_A} A, expected the two to agree`,
      );
    for (const run of system.runs ?? []) {
      const alone = run.strings ? run.strings.length === 1 : array.strings.length === 1;
      const own = run.protection?.type === 'none' ? null : run.protection?.rating_A;
      const other = read ?? stringFuse_A;
      if (run.kind === 'pv' && (run.from === array.id || run.to === array.id) && alone && own && other && own !== other)
        warnings.push(
          `system.arrays[${i}].stringFuse_A: is ${other} A, but the fuse on the string's own run is ${own} A, expected the two to agree`,
        );
    }
  });
  const { bank } = system;
  if (bank) {
    const known = cellsPerBlock(bank).cells;
    const perCell = known === null ? null : bank.block_V / known;
    const [low, high] = CHEMISTRY[bank.chemistry].usual_V;
    if (perCell === null)
      warnings.push(`system.bank.block_V: is ${bank.block_V} V, expected the usual volts of a ${bank.chemistry} block`);
    else if (perCell < low || perCell > high)
      warnings.push(
        `system.bank.block_V: is ${bank.block_V} V over ${known} cells of ${bank.chemistry}, expected ${low} to ${high} V a cell`,
      );
  }
  return warnings;
}
