import type { Visit } from './arvex';
import type { Hands } from './hands';

/** A frame of a camera as the server's table has it. */
export interface Row {
  readonly frame: number;
  readonly x_m: number;
  readonly y_m: number;
  readonly z_m: number;
  readonly pan_deg: number;
  readonly tilt_deg: number;
  readonly roll_deg: number;
  readonly focal_length_mm: number;
  readonly focus_m: number;
  readonly ev: number;
  readonly nd_stops: number;
}

/** What these tests read of a project. */
export interface Whole {
  readonly head: { readonly id: string; readonly rate: { readonly frames: number } };
  readonly cameras: Record<
    string,
    {
      readonly id: string;
      readonly name: string;
      readonly rig: { readonly kind: string; readonly nodesM?: number[][] };
      readonly aim: { readonly kind: string; readonly nodesM?: number[][] };
    }
  >;
  readonly moves: Record<
    string,
    {
      readonly cameraId: string;
      readonly curves: Record<string, { readonly atFlicks: number; readonly value: number; readonly shape: string }[]>;
      readonly marks: { readonly name: string; readonly atFlicks: number }[];
    }
  >;
  readonly shots: Record<string, { readonly name: string; readonly durationFlicks: number }>;
  readonly lightGroups: Record<string, { readonly id: string; readonly name: string }>;
}

export const distance = (a: Row, b: Row): number => Math.hypot(a.x_m - b.x_m, a.y_m - b.y_m, a.z_m - b.z_m);

/** A project's cameras by their names, as the server has them once all is saved. */
export class Frames {
  constructor(
    private readonly hands: Hands,
    private readonly arvex: Visit,
  ) {}

  async camera(name: string): Promise<Whole['cameras'][string]> {
    const { cameras } = await this.hands.project<Whole>();
    const found = Object.values(cameras).find((one) => one.name === name);
    if (!found) throw new Error(`There is no camera ${name}.`);
    return found;
  }

  async rows(name: string, from: number, to: number): Promise<Row[]> {
    const { head } = await this.hands.project<Whole>();
    const { id } = await this.camera(name);
    return this.arvex.json(`/projects/${head.id}/cameras/${id}/frames?from=${from}&to=${to}`);
  }

  async row(name: string, frame: number): Promise<Row> {
    const [found] = await this.rows(name, frame, frame);
    if (!found) throw new Error(`There is no frame ${frame}.`);
    return found;
  }

  async move(name: string): Promise<Whole['moves'][string] | undefined> {
    const { id } = await this.camera(name);
    return Object.values((await this.hands.project<Whole>()).moves).find(({ cameraId }) => cameraId === id);
  }
}
