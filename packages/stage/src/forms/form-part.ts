import type { Vector } from '@arvex/core';
import type { BufferGeometry } from 'three';

/** A form that pieces share: `key` tells it from others, `sizeM` is what its unit axes are multiplied with. */
export interface PieceForm {
  readonly key: string;
  readonly sizeM: Vector;
  readonly make: () => FormPart[];
}

/** A part of a form: painted in the piece's colour, or in one of its own (`#rrggbb`). */
export interface FormPart {
  readonly geometry: BufferGeometry;
  readonly colour?: string;
  readonly twoSided?: boolean;
}
