import type { Vector } from '@arvex/core';
import { Color, Float32BufferAttribute, PlaneGeometry } from 'three';
import type { Shape } from './shapes';
import { ball, bar, box, cone, noise, painted, post, ring, turnedBody } from './shapes';

/** A thing of the demo's set: what is lit, and what shines by itself with a luminance in cd/m². */
export interface Piece {
  readonly name: string;
  readonly lit: Shape[];
  /** How matt that is: 1 where it is not given. */
  readonly roughness?: number;
  /** What mirrors the sky. */
  readonly smooth?: { readonly shapes: Shape[]; readonly roughness: number };
  readonly shining?: { readonly shapes: Shape[]; readonly luminance: number };
}

const WOOD = ['#6b5a49', '#75624f', '#5f5042', '#7d6a56'];
const WHITE = '#d9d3c7';
const RED = '#9c3f37';
const IRON = '#3b3f44';
const GLASS_LIGHT = '#ffc878';

/** Mudflat with channels, the sea round it and low hills at the horizon. */
export function flats(): Piece {
  const ground = new PlaneGeometry(260, 220, 64, 56)
    .rotateX(-Math.PI / 2)
    .translate(-10, 0, 0)
    .toNonIndexed();
  const positions = ground.getAttribute('position');
  const colours: number[] = [];
  for (let i = 0; i < positions.count; i++) {
    const [x, z] = [positions.getX(i), positions.getZ(i)];
    positions.setY(i, groundHeight(x, z));
  }
  for (let face = 0; face < positions.count; face += 3) {
    const height = (positions.getY(face) + positions.getY(face + 1) + positions.getY(face + 2)) / 3;
    const shade = 0.8 + 0.4 * noise(face, 7);
    const colour = new Color(height < 0.06 ? '#6a6660' : '#857a66').multiplyScalar(shade);
    for (let corner = 0; corner < 3; corner++) colours.push(colour.r, colour.g, colour.b);
  }
  ground.deleteAttribute('uv');
  ground.setAttribute('color', new Float32BufferAttribute(colours, 3));
  ground.computeVertexNormals();
  // In parts: graphics in software lose the depth of one plane of so many kilometres.
  const sea = painted(new PlaneGeometry(4000, 4000, 8, 8).rotateX(-Math.PI / 2), '#2f3d42');
  const hills = Array.from({ length: 34 }, (_, i) => {
    const angle = (i / 34) * 2 * Math.PI;
    const height = 14 + 34 * noise(i, 3);
    return ball(
      1,
      [Math.sin(angle) * 900, -4, Math.cos(angle) * 900],
      '#4d5867',
      [130 + 80 * noise(i, 4), height, 60],
      10,
    );
  });
  return { name: 'flats', lit: [ground, ...hills], smooth: { shapes: [sea], roughness: 0.36 } };
}

function groundHeight(x: number, z: number): number {
  const island = Math.max(0, 1 - Math.hypot(x - 24, z + 3) / 19) * 1.6;
  const far = Math.max(0, Math.hypot(x + 10, z) / 110 - 0.75) * 4;
  return 0.1 * Math.sin(x / 7 + Math.sin(z / 5)) + 0.09 * Math.sin(z / 6 - x / 17) + island - far;
}

/** Rocks of the island and along the pier, and reeds on the flats. */
export function rocksAndReeds(): Piece {
  const rocks = Array.from({ length: 60 }, (_, i) => {
    const angle = noise(i, 1) * 2 * Math.PI;
    const away = 8 + noise(i, 2) * 9;
    const size = 0.4 + noise(i, 3) * 1.3;
    const squash: Vector = [1.2, 0.5 + 0.3 * noise(i, 4), 0.8 + 0.4 * noise(i, 5)];
    const [x, z] = [24 + Math.sin(angle) * away, -3 + Math.cos(angle) * away];
    return ball(size, [x, groundHeight(x, z) + 0.1, z], i % 3 ? '#5c5b5a' : '#6d675f', squash, 9);
  });
  const reeds = Array.from({ length: 320 }, (_, i) => {
    const clump = Math.floor(i / 32);
    const x = -46 + clump * 7.5 + (noise(i, 6) - 0.5) * 3.4;
    const z = (clump % 2 ? -9 : 11) + (noise(i, 7) - 0.5) * 3.4;
    const height = 0.7 + noise(i, 8) * 0.9;
    const foot: Vector = [x, groundHeight(x, z), z];
    return bar(0.014, foot, [x + (noise(i, 9) - 0.5) * 0.4, foot[1] + height, z + 0.1], '#8a8154', 3);
  });
  return { name: 'rocks and reeds', lit: [...rocks, ...reeds] };
}

const BANDS = 7;

/** Tapering tower in bands, with gallery, rail and roof; 24.6 m to the tip. Its origin is the middle of its foot. */
export function tower(): Piece {
  const radiusAt = (height: number) => 3.1 - (1.25 * height) / 18;
  const bands = Array.from({ length: BANDS }, (_, i) => {
    const [low, high] = [(18 * i) / BANDS, (18 * (i + 1)) / BANDS];
    return turnedBody(
      [
        [radiusAt(low), low],
        [radiusAt(high), high],
      ],
      i % 2 ? RED : WHITE,
      40,
    );
  });
  const gallery = [
    turnedBody(
      [
        [1.85, 17.6],
        [2.7, 18.1],
        [2.7, 18.35],
        [0, 18.35],
      ],
      IRON,
      40,
    ),
    ...[0.55, 1.05].map((height) => ring(2.6, 0.03, [0, 18.35 + height, 0], IRON)),
    ...Array.from({ length: 24 }, (_, i) => {
      const angle = (i / 24) * 2 * Math.PI;
      return post(0.025, 1.05, [Math.sin(angle) * 2.6, 18.35, Math.cos(angle) * 2.6], IRON, 0.025, 5);
    }),
  ];
  const lampRoom = [
    turnedBody(
      [
        [1.75, 18.35],
        [1.75, 19.1],
        [1.6, 19.1],
      ],
      WHITE,
      32,
    ),
    ...Array.from({ length: 10 }, (_, i) => {
      const angle = (i / 10) * 2 * Math.PI;
      return post(0.05, 2.7, [Math.sin(angle) * 1.65, 19.1, Math.cos(angle) * 1.65], IRON, 0.05, 5);
    }),
    turnedBody(
      [
        [2, 21.8],
        [1.9, 22.05],
        [0.35, 23.5],
        [0, 23.55],
      ],
      RED,
      32,
    ),
    post(0.05, 1, [0, 23.5, 0], IRON, 0.03, 6),
    ball(0.14, [0, 24.46, 0], IRON),
  ];
  const door = box([1.1, 2.1, 0.3], [0, 1.05, 2.98], '#4a3a2c');
  const windows = [5, 9.4, 13.8].map((height) => box([0.5, 0.9, 0.3], [0, height, radiusAt(height) - 0.08], '#23262b'));
  return { name: 'tower', lit: [...bands, ...gallery, ...lampRoom, door, ...windows] };
}

/** The glass lens in the lamp room: rings of prisms round a mantle that is still dark. */
export function lens(): Piece {
  const prisms = Array.from({ length: 13 }, (_, i) => {
    const height = 19.35 + i * 0.17;
    const radius = 0.78 - 0.045 * Math.abs(i - 6) ** 1.25;
    return ring(radius, 0.06, [0, height, 0], i % 2 ? '#9fc4bf' : '#b9d9d2', 36);
  });
  const frame = Array.from({ length: 8 }, (_, i) => {
    const angle = (i / 8) * 2 * Math.PI;
    return post(0.025, 2.3, [Math.sin(angle) * 0.86, 19.25, Math.cos(angle) * 0.86], '#8c6d36', 0.025, 5);
  });
  return {
    name: 'glass lens',
    roughness: 0.25,
    lit: [...prisms, ...frame, post(0.42, 0.95, [0, 18.35, 0], '#6d5530')],
  };
}

/** The pier: planks on posts, 61 m along x from −45 m; the deck is 1.12 m above the mud. */
export function pier(): Piece {
  const planks = Array.from({ length: 203 }, (_, i) => {
    const x = -45 + (i + 0.5) * 0.3;
    const width = 2.4 + 0.16 * (noise(i, 1) - 0.5);
    return box([0.27, 0.06, width], [x, 1.09 + 0.014 * noise(i, 2), 0], WOOD[i % WOOD.length] as string);
  });
  const beams = [-0.9, 0.9].map((z) => box([61, 0.18, 0.16], [-14.5, 0.97, z], '#4a3e33'));
  const posts = Array.from({ length: 21 }, (_, i) => i).flatMap((i) =>
    [-1.15, 1.15].map((z) => post(0.13, i % 4 === 0 ? 3.1 : 2.15, [-44.5 + i * 3, -0.9, z], '#54473a', 0.11)),
  );
  return { name: 'pier', roughness: 0.5, lit: [...planks, ...beams, ...posts] };
}

/** The keeper's hut: 4.4 × 3.4 m, door and window to the pier, a table inside. The window shines. */
export function hut(): Piece {
  const walls = '#7b7468';
  const lit = [
    box([4.4, 2.3, 0.14], [0, 1.15, -1.63], walls),
    box([0.14, 2.3, 3.4], [-2.13, 1.15, 0], walls),
    box([0.14, 2.3, 3.4], [2.13, 1.15, 0], walls),
    box([1.1, 2.3, 0.14], [-1.65, 1.15, 1.63], walls),
    box([0.35, 2.3, 0.14], [-0.05, 1.15, 1.63], walls),
    box([0.9, 0.35, 0.14], [-0.67, 2.12, 1.63], walls),
    box([0.9, 0.95, 0.14], [0.57, 0.47, 1.63], walls),
    box([0.9, 0.45, 0.14], [0.57, 2.07, 1.63], walls),
    box([1.1, 2.3, 0.14], [1.6, 1.15, 1.63], walls),
    box([4.4, 0.1, 3.4], [0, 0.05, 0], WOOD[0] as string),
    box([1.3, 0.06, 0.7], [0.8, 0.75, -0.6], WOOD[3] as string),
    ...[-0.55, 0.55].map((x) => box([0.08, 0.72, 0.6], [0.8 + x, 0.36, -0.6], WOOD[2] as string)),
    box([0.45, 1.1, 0.45], [-1.4, 3, -0.9], '#5b4a43'),
  ];
  for (const side of [-1, 1]) {
    const roof = painted(new PlaneGeometry(5, 2.35, 1, 1).rotateX(-Math.PI / 2), '#454a52');
    lit.push(roof.rotateX(side * 0.62).translate(0, 2.96, side * 0.93));
    const under = painted(new PlaneGeometry(5, 2.35, 1, 1).rotateX(Math.PI / 2), '#3a3430');
    lit.push(under.rotateX(side * 0.62).translate(0, 2.93, side * 0.93));
  }
  const window = box([0.86, 0.86, 0.03], [0.57, 1.4, 1.6], GLASS_LIGHT);
  return { name: 'hut', lit, shining: { shapes: [window], luminance: 160 } };
}

/** Rowing boat, 4.2 m, bow to +x. */
export function boat(): Piece {
  const ribs = 12;
  const lit: Shape[] = [];
  for (let i = 0; i < ribs; i++) {
    const [u, v] = [i / ribs, (i + 1) / ribs];
    const half = (s: number) => 0.72 * Math.sin(Math.PI * Math.min(1, 0.16 + s * 0.84)) ** 0.7;
    const x = (s: number) => -2.1 + 4.2 * s;
    for (const side of [-1, 1]) {
      for (const [height, inset] of [
        [0.1, 0.3],
        [0.26, 0.12],
        [0.42, 0],
      ] as const) {
        const at = (s: number): Vector => [x(s), height + 0.14 * (2 * s - 1) ** 2, side * (half(s) - inset)];
        lit.push(bar(0.095, at(u), at(v), height > 0.4 ? '#8b6b46' : '#39505c', 5));
      }
    }
  }
  lit.push(box([3.7, 0.05, 0.9], [-0.1, 0.08, 0], '#5d4a36'));
  for (const x of [-1.2, 0, 1.15]) lit.push(box([0.28, 0.05, 1.15], [x, 0.36, 0], '#8b6b46'));
  for (const side of [-1, 1]) lit.push(bar(0.03, [0.2, 0.55, side * 0.6], [-0.5, 0.12, side * 2.4], '#a98a5d'));
  return { name: 'rowing boat', lit };
}

/** A person in a coat, facing −z, standing at the origin. */
export function figure(name: string, height: number, coat: string, hat: string, trousers: string): Piece {
  const h = height;
  const skin = '#c99a7c';
  const lit = [
    ...[-1, 1].map((side) => post(0.045 * h, 0.3 * h, [side * 0.052 * h, 0.03 * h, 0], trousers, 0.05 * h, 9)),
    ...[-1, 1].map((side) => box([0.06 * h, 0.035 * h, 0.15 * h], [side * 0.052 * h, 0.018 * h, -0.03 * h], '#26221f')),
    turnedBody(
      [
        [0.14 * h, 0.27 * h],
        [0.12 * h, 0.42 * h],
        [0.1 * h, 0.58 * h],
        [0.122 * h, 0.74 * h],
        [0.1 * h, 0.81 * h],
        [0.045 * h, 0.84 * h],
        [0, 0.85 * h],
      ],
      coat,
      16,
    ),
    ...[-1, 1].map((side) =>
      bar(0.036 * h, [side * 0.125 * h, 0.79 * h, 0], [side * 0.165 * h, 0.44 * h, -0.05 * h], coat, 8),
    ),
    ...[-1, 1].map((side) => ball(0.033 * h, [side * 0.168 * h, 0.41 * h, -0.055 * h], skin)),
    post(0.032 * h, 0.06 * h, [0, 0.82 * h, 0], skin, 0.032 * h, 9),
    ball(0.062 * h, [0, 0.925 * h, 0], skin, [0.88, 1.15, 1]),
    ball(0.067 * h, [0, 0.95 * h, 0.006 * h], hat, [0.95, 0.78, 1.02]),
    cone(0.014 * h, 0.03 * h, [0, 0.9 * h, -0.07 * h], skin, 6),
  ];
  return { name, lit };
}

export function crate(): Piece {
  const lit = [box([0.7, 0.6, 0.5], [0, 0.3, 0], '#7a6648')];
  for (const x of [-0.31, 0.31]) lit.push(box([0.07, 0.62, 0.53], [x, 0.31, 0], '#5e4d37'));
  return { name: 'crate', lit };
}

export function ropeCoil(): Piece {
  return {
    name: 'rope coil',
    lit: [0, 1, 2, 3].map((i) => ring(0.3 - 0.015 * i, 0.045, [0, 0.05 + 0.075 * i, 0], '#b09a6b', 18)),
  };
}

export function mooringPost(): Piece {
  const lit = [post(0.19, 3, [0, -0.9, 0], '#4d4136', 0.16, 12), ring(0.21, 0.04, [0, 1.5, 0], '#b09a6b', 16)];
  return { name: 'mooring post', lit: [...lit, ring(0.21, 0.04, [0, 1.42, 0], '#b09a6b', 16)] };
}
