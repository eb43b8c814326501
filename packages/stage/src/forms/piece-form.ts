import type { Piece, PieceOf } from '@arvex/core';
import { LAMP_RADIUS_M } from '@arvex/core';
import type { BufferGeometry } from 'three';
import { BoxGeometry, CylinderGeometry, LatheGeometry, PlaneGeometry, SphereGeometry, Vector2 } from 'three';
import { merged, wedge } from './form';
import type { PieceForm } from './form-part';
import { animalForm, figureForm, vehicleForm } from './stand-in-forms';

const ROUND_SIDES = 32;

/** The form of a piece that Arvex draws itself; `undefined` for groups and imported geometry. */
export function pieceForm(piece: Piece): PieceForm | undefined {
  switch (piece.kind) {
    case 'geometry':
    case 'group':
      return undefined;
    case 'ground':
      return form('ground', [piece.widthM, 1, piece.depthM], () => [
        // In parts: graphics in software lose the depth of one plane of several kilometres.
        { geometry: new PlaneGeometry(1, 1, 8, 8).rotateX(-Math.PI / 2), twoSided: true },
      ]);
    case 'box':
      return boxForm(piece.widthM, piece.heightM, piece.depthM);
    case 'wall':
      return wallForm(piece);
    case 'steps':
      return stepsForm(piece);
    case 'ramp':
      return form('ramp', [piece.widthM, piece.heightM, piece.depthM], () => [{ geometry: wedge() }]);
    case 'cylinder':
      return form('cylinder', [piece.radiusM, piece.heightM, piece.radiusM], () => [
        { geometry: new CylinderGeometry(1, 1, 1, ROUND_SIDES).translate(0, 0.5, 0) },
      ]);
    case 'column':
      return form('column', [piece.radiusM, piece.heightM, piece.radiusM], () => [{ geometry: columnGeometry() }]);
    case 'card':
      return form('card', [piece.widthM, piece.heightM, 1], () => [
        { geometry: new PlaneGeometry(1, 1).translate(0, 0.5, 0), twoSided: true },
      ]);
    case 'figure': {
      const { heightM, pose } = piece;
      return form(`figure ${pose}`, [heightM, heightM, heightM], () => figureForm(pose));
    }
    case 'animal':
      return form('animal', [piece.shoulderM, piece.shoulderM, piece.shoulderM], animalForm);
    case 'vehicle':
      return form('vehicle', [piece.widthM, piece.heightM, piece.depthM], vehicleForm);
    case 'practical':
      return piece.lamp === 'area'
        ? form('panel', [piece.widthM, piece.heightM, 0.02], () => [{ geometry: new BoxGeometry() }])
        : form('bulb', [LAMP_RADIUS_M, LAMP_RADIUS_M, LAMP_RADIUS_M], () => [
            { geometry: new SphereGeometry(1, 12, 8) },
          ]);
  }
}

function form(key: string, sizeM: PieceForm['sizeM'], make: PieceForm['make']): PieceForm {
  return { key, sizeM, make };
}

function boxForm(x: number, y: number, z: number): PieceForm {
  return form('box', [x, y, z], () => [{ geometry: new BoxGeometry().translate(0, 0.5, 0) }]);
}

/** A wall is put together from boxes round its openings: upright strips, with what is left under and over each hole. */
function wallForm(wall: PieceOf<'wall'>): PieceForm {
  const { widthM, heightM, depthM, openings } = wall;
  if (openings.length === 0) return boxForm(widthM, heightM, depthM);
  return form(`wall ${JSON.stringify(wall)}`, [1, 1, 1], () => {
    const boxes: BufferGeometry[] = [];
    const fill = (left: number, right: number, bottom: number, top: number) => {
      if (right - left < 1e-4 || top - bottom < 1e-4) return;
      const [x, y] = [(left + right) / 2 - widthM / 2, (bottom + top) / 2];
      boxes.push(new BoxGeometry(right - left, top - bottom, depthM).translate(x, y, 0));
    };
    const inside = (x: number) => Math.max(0, Math.min(widthM, x));
    const edges = openings.flatMap(({ atM, widthM: wide }) => [inside(atM), inside(atM + wide)]);
    const cuts = [...new Set([0, ...edges, widthM])].sort((a, b) => a - b);
    cuts.slice(0, -1).forEach((left, i) => {
      const right = cuts[i + 1] as number;
      const middle = (left + right) / 2;
      const holes = openings
        .filter(({ atM, widthM: wide }) => atM < middle && middle < atM + wide)
        .map(({ sillM, heightM: tall }) => [sillM, Math.min(heightM, sillM + tall)] as const)
        .sort((a, b) => a[0] - b[0]);
      let from = 0;
      for (const [bottom, top] of holes) {
        fill(left, right, from, bottom);
        from = Math.max(from, top);
      }
      fill(left, right, from, heightM);
    });
    return [{ geometry: merged(boxes) }];
  });
}

/** Steps that rise toward −Z, each a box down to the floor. */
function stepsForm({ widthM, riseM, goingM, count }: PieceOf<'steps'>): PieceForm {
  return form(`steps ${count}`, [widthM, riseM * count, goingM * count], () => [
    {
      geometry: merged(
        Array.from({ length: count }, (_, i) => {
          const tall = (i + 1) / count;
          return new BoxGeometry(1, tall, 1 / count).translate(0, tall / 2, 0.5 - (i + 0.5) / count);
        }),
      ),
    },
  ]);
}

function columnGeometry(): BufferGeometry {
  const profile = [
    [0, 0],
    [1, 0],
    [1, 0.035],
    [0.84, 0.05],
    [0.78, 0.5],
    [0.72, 0.93],
    [0.95, 0.96],
    [0.95, 1],
    [0, 1],
  ] as const;
  return new LatheGeometry(
    profile.map(([radius, height]) => new Vector2(radius, height)),
    ROUND_SIDES,
  );
}
