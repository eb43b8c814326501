import type { PlanPiece, PlanPoint } from './plan-shapes';

/** A name in the plan, where it covers nothing else: metres, as SVG text stands. */
export interface PlanLabel {
  readonly id: string;
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly anchor: 'start' | 'middle' | 'end';
}

interface Box {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

/** Height of a line of text, width of a letter, and how far a name stands from its place, pixels. */
const LINE_PX = 12;
const LETTER_PX = 6.1;
const AWAY_PX = 9;
/** Half the size of a camera's body, pixels. */
const BODY_PX = 13;

/**
 * Names of things, each beside its place where it lies over no other name and no camera: over it, under it, to the right, to the
 * left. One that has no room is left out, unless it is wanted. Those that come first are placed first.
 */
export function planLabels(
  pieces: readonly PlanPiece[],
  cameras: readonly PlanPoint[],
  perPixel: number,
  wanted: (id: string) => boolean,
): PlanLabel[] {
  const px = (pixels: number) => pixels * perPixel;
  const taken: Box[] = cameras.map(([x, z]) => around(x, z, px(BODY_PX), px(BODY_PX)));
  const labels: PlanLabel[] = [];
  for (const { placement, at } of pieces) {
    const [x, z] = at;
    const width = px(placement.name.length * LETTER_PX);
    const places = [
      { x, y: z - px(AWAY_PX), anchor: 'middle' as const },
      { x, y: z + px(AWAY_PX + LINE_PX - 2), anchor: 'middle' as const },
      { x: x + px(AWAY_PX), y: z + px(4), anchor: 'start' as const },
      { x: x - px(AWAY_PX), y: z + px(4), anchor: 'end' as const },
    ];
    const boxOf = ({ x: left, y, anchor }: (typeof places)[number]): Box => {
      const from = anchor === 'start' ? left : anchor === 'end' ? left - width : left - width / 2;
      return { left: from, right: from + width, top: y - px(LINE_PX - 2), bottom: y + px(2) };
    };
    const free = places.find((place) => !taken.some((box) => overlaps(box, boxOf(place))));
    const chosen = free ?? (wanted(placement.id) ? places[0] : undefined);
    if (!chosen) continue;
    taken.push(boxOf(chosen));
    labels.push({ id: placement.id, name: placement.name, ...chosen });
  }
  return labels;
}

const around = (x: number, z: number, halfX: number, halfZ: number): Box => {
  return { left: x - halfX, right: x + halfX, top: z - halfZ, bottom: z + halfZ };
};

const overlaps = (a: Box, b: Box): boolean =>
  a.left < b.right && a.right > b.left && a.top < b.bottom && a.bottom > b.top;
