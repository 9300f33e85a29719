import { between, type ShadeAnswer } from '@true-lantern/core';

/** Where everything stands in the drawing of an array's curves, px. Pure: the same answer gives the same drawing. */
export interface CurveLayout {
  /** Full scale of the three axes. */
  volts: number;
  amps: number;
  watts: number;
  x(volts: number): number;
  /** Of a share of full scale. */
  y(share: number): number;
  current: string;
  power: string;
  maxima: { x: number; y: number; best: boolean }[];
  /** The bank's volts; null where they are not known or off the scale. */
  bank: number | null;
  /** Watts above which the controller's output is full; null where it is not known or off the scale. */
  limit: number | null;
  /** Where a pwm controller holds the array: amperes at the bank's volts. */
  held: { x: number; y: number; amps: number } | null;
}

/** Height of the drawing, px. */
export const HEIGHT = 260;
/** Room for the axes around the curve, px. */
export const PAD = { left: 40, right: 44, top: 14, bottom: 28 };

/** The I-V and P-V curves of an array laid out for a width in px: V to the right, A and W upward. */
export function curveLayout(
  { points, maxima, best }: Pick<ShadeAnswer, 'points' | 'maxima' | 'best'>,
  width: number,
  bank_V: number | null,
  controller: { limit_W: number | null; pwm: boolean } = { limit_W: null, pwm: false },
): CurveLayout {
  const amps = nice(Math.max(0.1, ...points.map(({ i }) => i)));
  const watts = nice(Math.max(1, ...points.map(({ v, i }) => v * i)));
  const volts = nice(points.at(-1)?.v ?? 1);
  const x = (v: number) => PAD.left + ((width - PAD.left - PAD.right) * v) / volts;
  const y = (share: number) => HEIGHT - PAD.bottom - (HEIGHT - PAD.top - PAD.bottom) * share;
  const path = (share: (point: { v: number; i: number }) => number) =>
    points.map((point, k) => `${k === 0 ? 'M' : 'L'}${x(point.v).toFixed(1)} ${y(share(point)).toFixed(1)}`).join(' ');
  const heldAt = (at_V: number) => {
    const held = ampsAt(points, at_V);
    return { x: x(at_V), y: y(held / amps), amps: held };
  };
  return {
    volts,
    amps,
    watts,
    x,
    y,
    current: path(({ i }) => i / amps),
    power: path(({ v, i }) => (v * i) / watts),
    maxima: maxima.map(({ v, p }) => ({ x: x(v), y: y(p / watts), best: p === best.p })),
    bank: bank_V !== null && bank_V < volts ? x(bank_V) : null,
    limit: controller.limit_W !== null && controller.limit_W < watts ? y(controller.limit_W / watts) : null,
    held: controller.pwm && bank_V !== null && bank_V < volts ? heldAt(bank_V) : null,
  };
}

/** Current of the curve at some volts, straight between its points; none beyond its open end. */
export const ampsAt = (points: readonly { v: number; i: number }[], volts: number): number =>
  between(
    points.map(({ v, i }) => [v, i] as const),
    volts,
  );

/** The next round figure above: 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8 times a power of ten. */
export function nice(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  return ([1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10].find((step) => step * power >= value) ?? 10) * power;
}
