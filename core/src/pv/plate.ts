import type { ModuleType } from '../system/schema';

type Plate = Pick<ModuleType, 'pmax_W' | 'voc_V' | 'isc_A' | 'vmp_V' | 'imp_A'>;

/**
 * A module's plate from its five figures in whatever order the plate has them. Watts are the product of the volts and
 * amperes of the best point; the open circuit has more volts and the short circuit more amperes than that; the shares are
 * those of crystalline silicon (the book's sanity of a nameplate: Vmp/Voc .76-.87, Imp/Isc .90-.97), widened for rounding.
 * Null where no order makes sense, or more than one does: then each is asked for by its name.
 */
export function plateOf(figures: readonly number[]): Plate | null {
  if (figures.length !== 5 || figures.some((figure) => !(figure > 0))) return null;
  const found: Plate[] = [];
  for (const [pmax_W = 0, voc_V = 0, isc_A = 0, vmp_V = 0, imp_A = 0] of orders(figures)) {
    const volts = vmp_V / voc_V;
    const amps = imp_A / isc_A;
    if (Math.abs((vmp_V * imp_A) / pmax_W - 1) > 0.03) continue;
    if (volts < 0.74 || volts > 0.9 || amps < 0.88 || amps > 0.985) continue;
    // Of a pair that would do either way round, volts are the larger figures: no module has more amperes than volts.
    if (imp_A >= vmp_V) continue;
    found.push({ pmax_W, voc_V, isc_A, vmp_V, imp_A });
  }
  const [first] = found;
  return first && found.every((one) => JSON.stringify(one) === JSON.stringify(first)) ? first : null;
}

function orders(items: readonly number[]): number[][] {
  if (items.length <= 1) return [[...items]];
  return items.flatMap((item, i) =>
    orders([...items.slice(0, i), ...items.slice(i + 1)]).map((rest) => [item, ...rest]),
  );
}
