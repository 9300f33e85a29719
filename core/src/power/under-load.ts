/** Volts at which a source of so many volts and ohms delivers these watts; null where none satisfies. NaN stays NaN. */
export function volts_V(emf: number, ohm: number, watts: number): number | null {
  const root = emf * emf - 4 * ohm * watts;
  return root < 0 ? null : (emf + Math.sqrt(root)) / 2;
}
