import type { PartKind } from '@true-lantern/core';
import Svg, { Path } from 'react-native-svg';
import { useGround } from './ground';

/** What is drawn: every kind of part, and what of it the eye tells apart. */
export type Drawn =
  | PartKind
  | 'plate'
  | 'breaker'
  | 'lamp'
  | 'refrigerator'
  | 'pump'
  | 'kettle'
  | 'dcdc'
  | 'inlet'
  | 'alternator';

/** Small drawings of what one sees, our own: outlines on a field of 40 x 40, one stroke throughout. */
const OUTLINES: Record<Drawn, string> = {
  // A module from the front, its cells, and the plate on its back in the corner.
  moduleTypes: 'M8 5h24v30H8zM8 15h24M8 25h24M16 5v20M24 5v20M24 25v10M24 30h8',
  // Two modules on a slope.
  arrays: 'M3 31 12 13h10l-7 18zM17 31l7-18h10l-7 18zM2 35h36M8 22h10M22 22h10',
  // A box with the sun above and terminals below.
  controllers: 'M7 12h26v18H7zM12 30v6M18 30v6M24 30v6M30 30v6M20 9V4M13 9l-3-4M27 9l3-4M13 21h14M22 17l5 4-5 4',
  // A block with its two posts, plus and minus.
  bank: 'M5 13h30v22H5zM10 13V8h6v5M24 13V8h6v5M10 20h6M24 20h6M27 17v6',
  // A box that makes a wave.
  inverters: 'M5 8h30v24H5zM10 20c3-9 7-9 10 0s7 9 10 0',
  // A cable between two lugs.
  runs: 'M9 9m-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0M31 31m-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0M13 9c14 0 0 22 14 22',
  // An arm between two contacts.
  switches:
    'M20 36v-9M20 4v7M20 27 31 12M20 27m-3 0a3 3 0 1 0 6 0a3 3 0 1 0-6 0M20 13m-2 0a2 2 0 1 0 4 0a2 2 0 1 0-4 0',
  // A housing with its handle, and the arc of what it breaks.
  breaker: 'M12 4h16v32H12zM16 14h8v8h-8zM18 14V9h4M16 28c2-3 6-3 8 0M20 4V1M20 36v3',
  // A lamp.
  lamp: 'M20 4a11 11 0 0 1 6 20v5H14v-5A11 11 0 0 1 20 4zM15 33h10M17 37h6',
  // A cabinet with two doors.
  refrigerator: 'M10 3h20v33H10zM10 15h20M14 8v4M14 19v6M13 36v2M27 36v2',
  // A wheel in its housing, in at the side and out at the top.
  pump: 'M19 23m-11 0a11 11 0 1 0 22 0a11 11 0 1 0-22 0M19 23l-5 6M19 23l7 3M19 23l-1-8M30 23V6h6M8 23H2M11 36h16',
  // A kettle on its plate.
  kettle: 'M11 13h17l3 17H8zM15 13V9h9v4M31 18l5-4M8 17c-5 0-5 9 0 9M6 35h28',
  // A plug: whatever else is plugged in.
  loads: 'M12 14h16v8a8 8 0 0 1-16 0zM16 14V6M24 14V6M20 30v8',
  // A box with its plug.
  chargers: 'M4 16h20v18H4zM10 16v-5M18 16v-5M24 25h6v-9M26 16h8v-6h-8zM28 10V5M32 10V5',
  // One battery, an arrow, another: volts on both sides.
  dcdc: 'M3 16h10v14H3zM6 16v-4h4v4M27 16h10v14H27zM30 16v-4h4v4M16 23h8M21 20l3 3-3 3',
  // A frame with its engine, its tank and the exhaust.
  sources: 'M4 34V12h32v22M2 34h36M8 12V8h13v4M10 20h10v14H10zM20 25h6v9M26 27m0 0h7v7M33 12V6',
  // A cover over its pins.
  inlet: 'M8 12h24v22H8zM8 12l4-7h16l4 7M20 23m-8 0a8 8 0 1 0 16 0a8 8 0 1 0-16 0M17 21h.1M23 21h.1M20 26h.1',
  // An engine with its belt.
  alternator:
    'M13 24m-9 0a9 9 0 1 0 18 0a9 9 0 1 0-18 0M31 12m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0M8 16 27 8M19 31l15-15',
  // A board with its ways.
  distribution: 'M6 4h28v32H6zM11 10h7v6h-7zM22 10h7v6h-7zM11 22h7v6h-7zM22 22h7v6h-7z',
  // Volts that step down.
  converters: 'M5 8h30v24H5zM10 15h8v10h12M26 21l4 4-4 4',
  // A display with its shunt below.
  monitor: 'M20 15m-11 0a11 11 0 1 0 22 0a11 11 0 1 0-22 0M20 15l5-5M5 34h8v-4h14v4h8',
  // A smaller block beside a wheel.
  otherBanks: 'M4 18h20v14H4zM8 18v-4h4v4M16 18v-4h4v4M31 26m-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0M31 26h.1',
  // A roof from above, a module and a hatch on it.
  roofs: 'M4 8h32v24H4zM9 13h11v14H9zM26 14h6v6h-6z',
  // A nameplate before a lens.
  plate: 'M5 10h30v20H5zM10 16h12M10 21h9M10 25h6M28 22m-4.5 0a4.5 4.5 0 1 0 9 0a4.5 4.5 0 1 0-9 0',
  // On the road or at rest: two ways of one thing.
  states: 'M14 20m-10 0a10 10 0 1 0 20 0a10 10 0 1 0-20 0M26 20m-10 0a10 10 0 1 0 20 0a10 10 0 1 0-20 0',
};

/** What a thing looks like. Its name stands beside it, so it is nothing to a screen reader. */
export function Thing({ thing, size = 40 }: { thing: Drawn; size?: number }) {
  const { colours } = useGround();
  return (
    <Svg width={size} height={size} viewBox="0 0 40 40" aria-hidden>
      <Path
        d={OUTLINES[thing]}
        fill="none"
        stroke={colours.ink}
        strokeWidth={2.2}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </Svg>
  );
}
