/**
 * What a person types into the number pad, as a number: "12.5", "-24", "3/8", "1 1/2", "1.2k". Null for an empty
 * entry, undefined where it is not (yet) a number.
 */
export function readEntry(text: string): number | null | undefined {
  const entry = text
    .trim()
    .replace(/\u2212/g, '-')
    .replace(',', '.');
  if (entry === '') return null;
  const match = /^(-?)(?:(\d+)\s+)?(\d*\.?\d*)(?:\/(\d+))?(k?)$/i.exec(entry);
  if (!match) return undefined;
  const [, sign, whole, top, bottom, kilo] = match;
  if (!top || top === '.') return undefined;
  if (whole !== undefined && bottom === undefined) return undefined;
  if (bottom !== undefined && Number(bottom) === 0) return undefined;
  const value = (Number(whole ?? 0) + Number(top) / Number(bottom ?? 1)) * (kilo ? 1000 : 1);
  return sign ? -value : value;
}

/** "16 mm2", "16", "2/0 awg" -> "16mm2", "2/0AWG"; undefined where it is no size. */
export function readSize(text: string): string | undefined {
  const entry = text.trim().toLowerCase().replace(',', '.').replace('\u00b2', '2').replace(/\s+/g, '');
  const metric = /^(\d+(?:\.\d+)?)(?:mm2?|mm)?$/.exec(entry);
  if (metric) return `${metric[1]}mm2`;
  const awg = /^(\d+|[1-4]\/0)(?:awg)?$/.exec(entry);
  return awg ? `${awg[1]}AWG` : undefined;
}
