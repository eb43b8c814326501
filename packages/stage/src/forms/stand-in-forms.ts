import type { PieceOf, Vector } from '@arvex/core';
import { ball, block, limb, merged, taper } from './form';
import type { FormPart } from './form-part';

type FigurePose = PieceOf<'figure'>['pose'];

const SKIN = '#c49a7c';

const HAIR = '#3a302a';

const TROUSERS = '#3a3d42';

const GLASS = '#23282d';

const TYRE = '#1d1d1f';

/** Heights and widths of a figure of stature 1, after usual body proportions. */
const HIP = 0.52;

const SHOULDER = 0.82;

const SEAT = 0.25;

const SITTING_HEIGHT = 0.52;

/** A figure of stature 1 that stands on the origin and looks toward −Z; its outline reads from far away. */
export function figureForm(pose: FigurePose): FormPart[] {
  const lower = pose === 'sitting' ? SEAT + SITTING_HEIGHT - 1 : 0;
  const at = (x: number, y: number, z: number): Vector => [x, y + lower, z];
  const coat = [
    taper(at(0, HIP - 0.1, 0), at(0, HIP + 0.08, 0), 0.105, 0.085, 12),
    taper(at(0, HIP + 0.08, 0), at(0, SHOULDER - 0.02, 0), 0.085, 0.115, 12),
    ball(at(0, SHOULDER - 0.02, 0), [0.12, 0.045, 0.065]),
    taper(at(0, SHOULDER, 0), at(0, SHOULDER + 0.045, 0), 0.04, 0.034),
    ...[-1, 1].flatMap((side) => arm(side, pose, at)),
  ];
  const skin = [
    ball(at(0, 0.925, -0.005), [0.052, 0.072, 0.063], 14),
    ball(at(0, 0.918, -0.066), [0.011, 0.016, 0.014], 6),
    ...[-1, 1].map((side) => ball(handAt(side, pose, at), [0.02, 0.034, 0.026], 6)),
  ];
  const hair = [ball(at(0, 0.945, 0.012), [0.056, 0.06, 0.062], 12)];
  const legs = [-1, 1].flatMap((side) => leg(side, pose));
  return [
    { geometry: merged(coat) },
    { geometry: merged(skin), colour: SKIN },
    { geometry: merged(hair), colour: HAIR },
    { geometry: merged(legs), colour: TROUSERS },
  ];
}

function elbowAt(side: number, pose: FigurePose, at: (x: number, y: number, z: number) => Vector): Vector {
  if (pose === 'reaching') return at(side * 0.12, SHOULDER - 0.06, -0.17);
  return at(side * 0.138, SHOULDER - 0.19, pose === 'sitting' ? -0.02 : 0.02);
}

function handAt(side: number, pose: FigurePose, at: (x: number, y: number, z: number) => Vector): Vector {
  if (pose === 'reaching') return at(side * 0.1, SHOULDER - 0.05, -0.37);
  return pose === 'sitting' ? at(side * 0.085, HIP + 0.06, -0.2) : at(side * 0.142, SHOULDER - 0.39, -0.03);
}

function arm(side: number, pose: FigurePose, at: (x: number, y: number, z: number) => Vector) {
  const shoulder = at(side * 0.118, SHOULDER - 0.025, 0);
  const [elbow, hand] = [elbowAt(side, pose, at), handAt(side, pose, at)];
  return [limb(shoulder, elbow, 0.036), limb(elbow, hand, 0.028)];
}

function leg(side: number, pose: FigurePose) {
  const x = side * 0.055;
  if (pose !== 'sitting') {
    return [
      taper([x, HIP, 0], [x, 0.27, -0.01], 0.075, 0.05),
      taper([x, 0.27, -0.01], [x, 0.04, 0.01], 0.05, 0.034),
      block([x, 0.02, -0.03], [0.055, 0.04, 0.145]),
    ];
  }
  return [
    limb([x, SEAT + 0.03, 0], [x, SEAT + 0.02, -0.25], 0.058),
    taper([x, SEAT, -0.26], [x, 0.04, -0.25], 0.05, 0.034),
    block([x, 0.02, -0.285], [0.055, 0.04, 0.145]),
  ];
}

/** A four-legged animal of shoulder height 1 that looks toward −Z. */
export function animalForm(): FormPart[] {
  const legs = [-1, 1].flatMap((side) =>
    [-0.5, 0.48].map((z) => taper([side * 0.14, 0.6, z], [side * 0.13, 0, z], 0.09, 0.05)),
  );
  return [
    {
      geometry: merged([
        ball([0, 0.78, 0], [0.22, 0.24, 0.66], 14),
        taper([0, 0.85, -0.5], [0, 1.2, -0.68], 0.15, 0.11),
        ball([0, 1.28, -0.74], [0.12, 0.13, 0.17]),
        taper([0, 1.24, -0.84], [0, 1.18, -1], 0.08, 0.05),
        limb([0, 0.9, 0.62], [0, 1.1, 0.82], 0.035),
        ...[-1, 1].map((side) => taper([side * 0.08, 1.36, -0.7], [side * 0.11, 1.45, -0.69], 0.04, 0.01, 6)),
        ...legs,
      ]).translate(0, 0, 0.1),
    },
  ];
}

/** A car-like block that fills one metre each way and looks toward −Z. */
export function vehicleForm(): FormPart[] {
  const wheels = [-1, 1].flatMap((side) => [-0.32, 0.32].map((z) => wheel(side, z)));
  return [
    { geometry: merged([block([0, 0.41, 0], [0.98, 0.36, 1]), block([0, 0.96, 0.09], [0.84, 0.08, 0.44])]) },
    { geometry: block([0, 0.75, 0.09], [0.86, 0.36, 0.52]), colour: GLASS },
    { geometry: merged(wheels), colour: TYRE },
  ];
}

/** A wheel that stays round in a vehicle of usual proportions. */
function wheel(side: number, z: number) {
  return taper([side * 0.36, 0, 0], [side * 0.5, 0, 0], 1, 1, 16)
    .scale(1, 0.21, 0.075)
    .translate(0, 0.21, z);
}
