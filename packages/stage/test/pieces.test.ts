import type { Piece, Vector } from '@arvex/core';
import { applyChange, newProject, PIECE_OFFERS, pieceBox, putPiece, setPlacement } from '@arvex/core';
import type { BufferGeometry } from 'three';
import { Box3, Triangle, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { pieceForm } from '../src/forms';
import { NOTHING_STAGED, patchedSet, setPatch } from '../src/patch';
import { beamSolidAngle } from '../src/scene';

function geometriesOf(piece: Piece): { geometry: BufferGeometry; sizeM: Vector }[] {
  const form = pieceForm(piece);
  return (form?.make() ?? []).map(({ geometry }) => ({ geometry, sizeM: form?.sizeM ?? [1, 1, 1] }));
}

function boxOf(piece: Piece): Box3 {
  const box = new Box3();
  for (const { geometry, sizeM } of geometriesOf(piece)) {
    geometry.computeBoundingBox();
    const own = (geometry.boundingBox ?? new Box3()).clone();
    own.min.multiply(new Vector3(...sizeM));
    own.max.multiply(new Vector3(...sizeM));
    box.union(own);
  }
  return box;
}

/** Volume enclosed by a closed surface: the sum of signed tetrahedra (divergence theorem). */
function volumeOf(piece: Piece): number {
  let volume = 0;
  for (const { geometry, sizeM } of geometriesOf(piece)) {
    const positions = (geometry.index ? geometry.toNonIndexed() : geometry).getAttribute('position');
    const triangle = new Triangle();
    for (let i = 0; i < positions.count; i += 3) {
      triangle.setFromAttributeAndIndices(positions, i, i + 1, i + 2);
      for (const corner of [triangle.a, triangle.b, triangle.c]) corner.multiply(new Vector3(...sizeM));
      volume += triangle.a.dot(triangle.b.clone().cross(triangle.c)) / 6;
    }
  }
  return volume;
}

describe('the form of a piece', () => {
  it.each(PIECE_OFFERS.filter(({ piece }) => piece.kind !== 'practical'))(
    '$name is as large as the core says',
    ({ piece }) => {
      const [drawn, said] = [boxOf(piece), pieceBox(piece)];
      const tolerance = ['figure', 'animal', 'vehicle'].includes(piece.kind) ? 0.09 : 0.011;
      drawn.min.toArray().forEach((value, i) => expect(Math.abs(value - (said.minM[i] ?? 0))).toBeLessThan(tolerance));
      drawn.max.toArray().forEach((value, i) => expect(Math.abs(value - (said.maxM[i] ?? 0))).toBeLessThan(tolerance));
      expect(Math.abs(drawn.max.y - said.maxM[1])).toBeLessThan(0.02);
    },
  );

  it('has holes where a wall has openings, also where they overlap or leave it', () => {
    const wall = { kind: 'wall', widthM: 4, heightM: 3, depthM: 0.2 } as const;
    const door = { atM: 1, widthM: 1, sillM: 0, heightM: 2 };
    const window = { atM: 1.5, widthM: 1, sillM: 1, heightM: 1 };
    expect(volumeOf({ ...wall, openings: [] })).toBeCloseTo(2.4, 6);
    expect(volumeOf({ ...wall, openings: [door] })).toBeCloseTo((12 - 2) * 0.2, 6);
    expect(volumeOf({ ...wall, openings: [door, window] })).toBeCloseTo((12 - 2 - 0.5) * 0.2, 6);
    expect(volumeOf({ ...wall, openings: [{ atM: 3.5, widthM: 2, sillM: 2.5, heightM: 9 }] })).toBeCloseTo(
      11.75 * 0.2,
      6,
    );
  });

  it('of steps and ramps closes: half a block, and the stairs’ sum', () => {
    expect(volumeOf({ kind: 'ramp', widthM: 2, heightM: 1, depthM: 3 })).toBeCloseTo(3, 6);
    const steps = { kind: 'steps', widthM: 1, riseM: 0.2, goingM: 0.3, count: 4 } as const;
    expect(volumeOf(steps)).toBeCloseTo(0.2 * 0.3 * (1 + 2 + 3 + 4), 6);
  });
});

describe('a beam', () => {
  it('holds the solid angle of its cone, and a panel that of Lambert’s law', () => {
    expect(beamSolidAngle(Math.PI / 3, 0)).toBeCloseTo(2 * Math.PI * (1 - 0.5), 9);
    expect(beamSolidAngle(Math.PI / 2, 1)).toBeCloseTo(Math.PI, 9);
  });
});

describe('a patch of the set', () => {
  it('carries only what changed, and brings the other side to the same state', () => {
    const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
    const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Saltmarsh Light');
    const [offer] = PIECE_OFFERS;
    if (!offer) throw new Error('nothing to put');
    const put = (n: number, project: typeof empty) =>
      applyChange(project, {
        ...putPiece(project, id(2), id(n), offer, [n, 0, 0]),
        id: id(100 + n),
        operations: [...putPiece(project, id(2), id(n), offer, [n, 0, 0]).operations],
      });
    const two = put(5, put(4, empty));
    const edit = setPlacement(two, id(4), 'Move', { positionM: [9, 0, 0] });
    const moved = applyChange(two, { id: id(200), name: edit.name, operations: [...edit.operations] });
    const patch = setPatch(two, moved);
    expect([Object.keys(patch.placements.put), Object.keys(patch.sets.put)]).toEqual([[id(4)], []]);
    expect(patchedSet(two, patch).placements).toEqual(moved.placements);
    const gone = setPatch(moved, empty);
    expect(gone.placements.gone).toEqual([id(4), id(5)]);
    expect(patchedSet(moved, gone).placements).toEqual({});
    expect(patchedSet(NOTHING_STAGED, setPatch(NOTHING_STAGED, moved)).placements).toEqual(moved.placements);
  });
});
