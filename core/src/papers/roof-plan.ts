import { partTitle } from '../conductors/names';
import { boxOf, rectangle, type Box, type Point } from '../numeric/polygon';
import { raised, said } from '../parts/said';
import { CAUTIONS } from '../rules/cautions';
import { fitOn } from '../roof/fit';
import { wrongIn } from '../roof/placed';
import { moduleFor } from '../roof/roof';
import { boxAt, edgeOf, gapOf, lyingThere, obstacleBox } from '../roof/size';
import { tooNear } from '../roof/words';
import { faultAt } from '../system/faults';
import { modelOf, type Model } from '../system/model';
import type { Obstacle, Roof, SystemFile } from '../system/schema';
import { inUnits, pretty, type Units } from '../written/units';
import { part, type Block, type Paper } from './blocks';
import { underOf } from './survey-report';

/** One module as it is marked out. */
interface Marked {
  name: string;
  box: Box;
}

/**
 * A roof drawn to scale with the distances to mark out, all from one corner (docs/papers.md): the modules as they are
 * placed, or where the most fit while none is.
 * @throws FaultError where there is no such roof, or no module whose size is known
 */
export function roofPlan(file: SystemFile, id: string, units: Units): Paper {
  const model = modelOf(file);
  const roof = (model.system.roofs ?? []).find((one) => one.id === id);
  if (!roof) throw faultAt('about', `is "${id}", expected the id of a roof of this site`);
  return {
    title: `${roof.label ?? 'Roof'}: marking out`,
    under: underOf(model),
    blocks: [
      ...roofBlocks(model, roof, units),
      ...part('Cautions', { is: 'list', items: [CAUTIONS.roof, CAUTIONS.panelsLive] }),
    ],
  };
}

/** The drawing of a roof, and how far each module lies from its corner A. */
export function roofBlocks(model: Model, roof: Roof, units: Units): Block[] {
  const marked = markedOn(model, roof);
  const corner = cornerOf(roof);
  const mm = (value: number) => inUnits(value, 'mm', units, 4);
  const slope = (roof.tilt_deg ?? 0) > 0 ? 'up the slope' : 'ahead';
  const from = (box: Box) => [
    mm(box.left - corner[0]),
    mm(box.right - corner[0]),
    mm(box.foot - corner[1]),
    mm(box.top - corner[1]),
  ];
  const { faults } = wrongIn(model, roof, roof.obstacles ?? []);
  const isPlaced = (roof.placed ?? []).length > 0;
  return [
    ...(isPlaced
      ? []
      : [
          {
            is: 'text' as const,
            text: 'No module is placed yet: this is where the most fit.',
            look: 'strong' as const,
          },
        ]),
    { is: 'svg', svg: roofSvg(roof, marked, corner), about: 'The roof from above' },
    {
      is: 'text',
      text: `Measure from corner A: to the right, and ${slope}. Keep ${mm(edgeOf(roof))} to the edge and ${mm(gapOf(roof))} between modules. Both diagonals of a module are equal when it is square.`,
    },
    ...part('Does not fit as placed', {
      is: 'list',
      items: faults.map((fault) => pretty(`Module ${fault.index + 1}: ${tooNear(roof, fault)}`, units)),
    }),
    ...part('Modules', {
      is: 'table',
      boxes: true,
      columns: [
        { title: 'Module', wide: 4 },
        ...['Left edge', 'Right edge', 'Near edge', 'Far edge', 'A to its near corner'].map((title) => ({
          title,
          wide: 1.6,
          figures: true,
        })),
      ],
      rows: marked.map(({ name, box }, i) => [
        `${i + 1}: ${name}`,
        ...from(box),
        mm(Math.round(Math.hypot(box.left - corner[0], box.foot - corner[1]))),
      ]),
    }),
    ...part('On the roof', {
      is: 'table',
      columns: [
        { title: 'What', wide: 4 },
        ...['Left edge', 'Right edge', 'Near edge', 'Far edge', 'Height'].map((title) => ({
          title,
          wide: 1.6,
          figures: true,
        })),
      ],
      rows: (roof.obstacles ?? []).map((one) => [
        `${raised(one.label ?? said(one.kind ?? 'other'))}${one.movable ? ' (can be moved)' : ''}`,
        ...from(obstacleBox(one)),
        mm(one.height_mm ?? 0),
      ]),
    }),
  ];
}

/** The corner of the outline that is furthest to the left and behind. */
function cornerOf({ outline_mm }: Roof): Point {
  const [first = [0, 0], ...rest]: readonly Point[] = outline_mm ?? [];
  return rest.reduce((best, point) => (point[0] + point[1] < best[0] + best[1] ? point : best), first);
}

/** Looks at the search's clock before what was found so far counts: a paper is not waited for. */
const LOOKS = 400;

function markedOn(model: Model, roof: Roof): Marked[] {
  const { system } = model;
  const placed = roof.placed ?? [];
  if (placed.length > 0)
    return placed.map((one) => {
      const array = partTitle(system, one.arrayId) ?? 'Array';
      const { box } = lyingThere(system, one);
      return { name: `${array}, string ${(one.string ?? 0) + 1}, module ${(one.index ?? 0) + 1}`, box };
    });
  const module = moduleFor(model, roof, undefined);
  let left = LOOKS;
  const { placed: spots } = fitOn(roof, roof.obstacles ?? [], module, () => left-- > 0);
  return spots.map(({ x, y, turned }) => ({ name: module.label ?? 'Module', box: boxAt(module, x, y, turned) }));
}

/** Wide enough for a page, in the drawing's own units. */
const WIDTH = 500;
const MARGIN = 26;
const MOST_HIGH = 560;

/** Black on white, to scale, up is ahead (or up the slope). */
function roofSvg(roof: Roof, marked: readonly Marked[], corner: Point): string {
  const shown = boxOf([
    ...(roof.outline_mm ?? []),
    // A tree or the house next door may stand far off: what lies within a metre of the roof is drawn.
    ...(roof.obstacles ?? []).filter((one) => isNear(roof, one)).flatMap((one) => rectangle(obstacleBox(one))),
  ]);
  const [wide, high] = [shown.right - shown.left, shown.top - shown.foot];
  const scale = Math.min((WIDTH - 2 * MARGIN) / wide, (MOST_HIGH - 2 * MARGIN) / high);
  const [width, height] = [wide * scale + 2 * MARGIN, high * scale + 2 * MARGIN];
  const x = (mm: number) => round(MARGIN + (mm - shown.left) * scale);
  const y = (mm: number) => round(height - MARGIN - (mm - shown.foot) * scale);
  const path = (points: readonly Point[]) => `M${points.map(([px, py]) => `${x(px)} ${y(py)}`).join('L')}Z`;
  const text = (px: number, py: number, size: number, words: string) =>
    `<text x="${round(px)}" y="${round(py)}" font-size="${size}" font-family="Hyperlegible" text-anchor="middle">${words}</text>`;
  const obstacles = (roof.obstacles ?? []).filter((one) => isNear(roof, one));
  const parts = [
    `<path d="${path(roof.outline_mm ?? [])}" fill="white" stroke="black" stroke-width="2.5"/>`,
    ...(roof.keepClear ?? []).map(
      ({ outline_mm }) =>
        `<path d="${path(outline_mm ?? [])}" fill="none" stroke="black" stroke-width="1" stroke-dasharray="4 3"/>`,
    ),
    ...obstacles.map(({ circle_mm, outline_mm }) =>
      circle_mm
        ? `<circle cx="${x(circle_mm[0])}" cy="${y(circle_mm[1])}" r="${round(circle_mm[2] * scale)}" fill="#c9c3b4" stroke="black" stroke-width="1"/>`
        : `<path d="${path(outline_mm ?? [])}" fill="#c9c3b4" stroke="black" stroke-width="1"/>`,
    ),
    ...marked.flatMap(({ box }, i) => [
      `<rect x="${x(box.left)}" y="${y(box.top)}" width="${round((box.right - box.left) * scale)}" height="${round((box.top - box.foot) * scale)}" fill="white" stroke="black" stroke-width="1.75"/>`,
      text((x(box.left) + x(box.right)) / 2, (y(box.top) + y(box.foot)) / 2 + 5, 14, String(i + 1)),
    ]),
    `<circle cx="${x(corner[0])}" cy="${y(corner[1])}" r="4" fill="black"/>`,
    text(x(corner[0]) - 10, y(corner[1]) + 14, 14, 'A'),
  ];
  return `<svg viewBox="0 0 ${round(width)} ${round(height)}" width="${round(width)}" height="${round(height)}">${parts.join('')}</svg>`;
}

const round = (value: number) => Math.round(10 * value) / 10;
const NEAR_MM = 1000;
function isNear(roof: Roof, obstacle: Obstacle): boolean {
  const [own, its] = [boxOf(roof.outline_mm ?? []), obstacleBox(obstacle)];
  return (
    its.right > own.left - NEAR_MM &&
    its.left < own.right + NEAR_MM &&
    its.top > own.foot - NEAR_MM &&
    its.foot < own.top + NEAR_MM
  );
}
