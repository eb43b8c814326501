import type { GeometryFile, Placement, Project, Vector } from '@arvex/core';
import {
  applyChange,
  attachPlacements,
  bringIn,
  flicksFromSeconds,
  newProject,
  PIECE_OFFERS,
  putPiece,
  setPlacement,
  setSet,
  walkAlong,
} from '@arvex/core';
import { Document, NodeIO } from '@gltf-transform/core';
import type { DirectionalLight, InstancedMesh, Intersection, Object3D, PointLight, SpotLight } from 'three';
import { Matrix4, Vector3 } from 'three';
import { beforeEach, describe, expect, it } from 'vitest';
import { BodyLibrary } from '../src/files';
import { NOTHING_STAGED, setPatch } from '../src/patch';
import { SetScene } from '../src/scene';

let count = 0;
const nextId = () => `00000000-0000-4000-8000-${String(++count).padStart(12, '0')}`;
const offer = (name: string) => PIECE_OFFERS.find((one) => one.name.startsWith(name))!;

let project: Project;
let scene: SetScene;
let staged = NOTHING_STAGED;
let read: string[];
let files: Map<string, ArrayBuffer>;
const setId = () => Object.keys(project.sets)[0] as string;
const take = (edit: { name: string; operations: readonly unknown[] }) =>
  (project = applyChange(project, { id: nextId(), ...edit } as never));
function put(name: string, at: Vector): string {
  const id = nextId();
  take(putPiece(project, setId(), id, offer(name), at));
  return id;
}
/** Brings the scene to the project, as the stage does. */
async function follow(): Promise<string[]> {
  const { sets, assets, placements } = project;
  const patch = setPatch(staged, (staged = { sets, assets, placements }));
  return scene.follow(patch);
}
const meshes = () => {
  const found: InstancedMesh[] = [];
  scene.scene.traverse((object) => {
    if ((object as InstancedMesh).isInstancedMesh) found.push(object as InstancedMesh);
  });
  return found;
};
/** Where a placement is drawn, by the first of its parts. */
function drawnAt(id: string): number[] | undefined {
  for (const mesh of meshes()) {
    for (let instanceId = 0; instanceId < mesh.count; instanceId++) {
      if (scene.ownerOf({ object: mesh, instanceId } as unknown as Intersection) !== id) continue;
      const matrix = new Matrix4();
      mesh.getMatrixAt(instanceId, matrix);
      return new Vector3().setFromMatrixPosition(matrix).toArray();
    }
  }
  return undefined;
}
const close = (actual: readonly number[] | undefined, expected: readonly number[]) =>
  expect(actual).toEqual(expected.map((value): unknown => expect.closeTo(value, 5)));
const lights = <T>(type: string) => {
  const found: T[] = [];
  scene.scene.traverse((object) => {
    if (object.type === type) found.push(object as T);
  });
  return found;
};
const sun = () => lights<DirectionalLight>('DirectionalLight')[0]!;

beforeEach(() => {
  project = newProject({ project: nextId(), set: nextId(), sequence: nextId() }, 'Saltmarsh Light');
  read = [];
  files = new Map();
  staged = NOTHING_STAGED;
  const geometry = (hash: string) => {
    read.push(hash);
    const file = files.get(hash);
    return file ? Promise.resolve(file) : Promise.reject(new Error('gone'));
  };
  scene = new SetScene(
    new BodyLibrary({
      geometry,
      picture: () => Promise.reject(new Error('no pictures here')),
      lut: () => Promise.reject(new Error('none')),
    }),
  );
});

describe('a set of a thousand things', () => {
  it('of a few kinds is drawn in fewer than sixty calls, each thing found again by what a ray hits', async () => {
    const kinds = ['Box', 'Column', 'Figure, standing', 'Wall with a doorway', 'Steps'];
    const ids = Array.from({ length: 1000 }, (_, i) => put(kinds[i % 5]!, [i % 40, 0, Math.floor(i / 40)]));
    expect(await follow()).toEqual([]);
    expect(meshes().length).toBeLessThan(60);
    close(
      drawnAt(ids[0]!)?.filter((_, i) => i !== 1),
      [0, 0],
    );
    close(
      drawnAt(ids[995]!)?.filter((_, i) => i !== 1),
      [35, 24],
    );
    const before = meshes().map(({ uuid }) => uuid);
    put('Box', [50, 0, 50]); // there is room for one more
    await follow();
    expect(meshes().map(({ uuid }) => uuid)).toEqual(before);
  });
});

describe('what is shown', () => {
  it('is what is visible, with what carries it', async () => {
    const [block, box] = [put('Box', [0, 0, 0]), put('Box', [1, 0, 0])];
    take(attachPlacements(project, [box], block, 0));
    take(setPlacement(project, block, 'Hide', { visible: false }));
    await follow();
    expect([drawnAt(block), drawnAt(box)]).toEqual([undefined, undefined]);
    take(setPlacement(project, block, 'Show', { visible: true, positionM: [0, 0, 4] }));
    await follow();
    expect(drawnAt(box)?.[2]).toBeCloseTo(4, 6);
  });

  it('walks with scene time, and takes along what it carries', async () => {
    const [walker, lamp] = [put('Figure, standing', [0, 0, 0]), put('Box', [0, 1, 0])];
    const walk = {
      nodesM: [
        [0, 0, 0],
        [4, 0, 0],
      ] as Vector[],
      groundM: [],
      startFlicks: 0,
      speedMps: 2,
    };
    take(attachPlacements(project, [lamp], walker, 0));
    take(walkAlong(project, walker, walk));
    await follow();
    scene.goTo(flicksFromSeconds(1.5));
    expect(drawnAt(lamp)?.[0]).toBeCloseTo(3, 5);
    scene.goTo(0);
    expect(drawnAt(lamp)?.[0]).toBeCloseTo(0, 5);
  });
});

describe('daylight', () => {
  it('shines with its lux from where it stands, dimmed and put out by a camera’s mix', async () => {
    put('Box', [0, 0, 0]);
    const group = nextId();
    const set = project.sets[setId()]!;
    take({
      name: 'Lamps',
      operations: [
        {
          op: 'create',
          kind: 'lightGroup',
          id: group,
          fields: { name: 'Day', level: { stops: 0, tint: '#ffffff', on: true } },
        },
      ],
    });
    const low = { ...set.sun, elevationDeg: 30, azimuthDeg: 90, illuminanceLx: 40_000 };
    take(setSet(project, setId(), 'Sun', { sun: low, amounts: 'typed', daylightGroupId: group }));
    await follow();
    scene.shine({ mix: {} }, 1000);
    expect(sun().intensity).toBe(40_000);
    const strength = () => sun().color.r * 0.2126 + sun().color.g * 0.7152 + sun().color.b * 0.0722;
    expect(strength()).toBeCloseTo(1, 6); // its colour has luminance 1: lux stay lux
    const toward = sun().position.clone().sub(sun().target.position).normalize();
    close(toward.toArray(), [Math.cos(Math.PI / 6), 0.5, 0]);
    scene.shine({ mix: { [group]: { stops: -1, tint: '#ffffff', on: true } } }, 1000);
    expect(strength()).toBeCloseTo(0.5, 6);
    scene.shine({ mix: { [group]: { stops: 0, tint: '#ffffff', on: false } } }, 1000);
    expect(sun().visible).toBe(false);
    take(setSet(project, setId(), 'Sun', { sun: { ...low, elevationDeg: -3 } }));
    await follow();
    scene.shine({ mix: {} }, 1000);
    expect(sun().visible).toBe(false); // below the horizon
  });

  it('draws shadows anew when something has moved, and not when nothing has', async () => {
    const box = put('Box', [0, 0, 0]);
    await follow();
    const stale = () => {
      const { shadow } = sun();
      shadow.needsUpdate = false;
      scene.shine({ mix: {} }, 1000);
      return shadow.needsUpdate;
    };
    expect([stale(), stale()]).toEqual([true, false]);
    take(setPlacement(project, box, 'Move', { positionM: [3, 0, 0] }));
    await follow();
    expect([stale(), stale()]).toEqual([true, false]);
  });
});

describe('practicals', () => {
  it('give their lumen all round, or in their beam where they are turned', async () => {
    const [bulb, spot] = [put('Practical, bare bulb', [1, 2, 3]), put('Practical, spot', [0, 3, 0])];
    const bulbPiece = project.placements[bulb]!.piece as Extract<Placement['piece'], { kind: 'practical' }>;
    take(setPlacement(project, spot, 'Turn', { panDeg: 90 }));
    await follow();
    scene.shine({ mix: {} }, 1000);
    const [point] = lights<PointLight>('PointLight');
    expect(point!.intensity).toBeCloseTo(bulbPiece.lumen / (4 * Math.PI), 6);
    close(point!.position.toArray(), [1, 2, 3]);
    const [beam] = lights<SpotLight>('SpotLight');
    close(beam!.target.position.toArray(), [1, 3, 0]); // clockwise from north: east
    take(setPlacement(project, bulb, 'Lumen', { piece: { ...bulbPiece, lumen: 0 } }));
    await follow();
    scene.shine({ mix: {} }, 1000);
    expect(lights<PointLight>('PointLight')[0]!.visible).toBe(false);
  });
});

describe('imported files', () => {
  const HASH = 'c'.repeat(64);
  const FILE: GeometryFile = {
    kind: 'geometry',
    hash: HASH,
    bytes: 1,
    triangles: 1,
    minM: [0, 0, 0],
    maxM: [1, 1, 0],
    footprints: [],
    clips: [],
    deforms: false,
    leftOut: [],
  };
  /** A triangle that, when asked, slides two metres to the east in a second. */
  async function triangle(slides: boolean): Promise<ArrayBuffer> {
    const document = new Document();
    const buffer = document.createBuffer();
    const accessor = (type: 'SCALAR' | 'VEC3', values: number[]) =>
      document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
    const positions = accessor('VEC3', [0, 0, 0, 1, 0, 0, 0, 1, 0]);
    const mesh = document.createMesh().addPrimitive(document.createPrimitive().setAttribute('POSITION', positions));
    const node = document.createNode('sail').setMesh(mesh);
    document.createScene().addChild(node);
    if (slides) {
      const sampler = document
        .createAnimationSampler()
        .setInput(accessor('SCALAR', [0, 1]))
        .setOutput(accessor('VEC3', [0, 0, 0, 2, 0, 0]));
      const channel = document.createAnimationChannel().setTargetNode(node).setTargetPath('translation');
      document.createAnimation('slides').addSampler(sampler).addChannel(channel.setSampler(sampler));
    }
    return (await new NodeIO().writeBinary(document)).slice().buffer;
  }
  function stand(file: GeometryFile, at: Vector): string {
    const placement = nextId();
    take(bringIn(project, setId(), { asset: nextId(), placement }, 'sail', file, at));
    return placement;
  }

  it('are read once however often they stand, and drawn together, each in its size', async () => {
    files.set(HASH, await triangle(false));
    const [one, two] = [stand(FILE, [0, 0, 0]), stand(FILE, [5, 0, 0])];
    take(setPlacement(project, two, 'Size', { scale: [0.01, 0.01, 0.01] }));
    await follow();
    expect([read, meshes().length]).toEqual([[HASH], 1]);
    close(drawnAt(one), [0, 0, 0]);
    const matrix = new Matrix4();
    meshes()[0]!.getMatrixAt(1, matrix);
    expect(new Vector3().setFromMatrixScale(matrix).x).toBeCloseTo(0.01, 6);
  });

  it('that cannot be read are told, leave the rest standing, and are asked for again', async () => {
    const box = put('Box', [1, 0, 0]);
    const sail = stand(FILE, [0, 0, 0]);
    expect(await follow()).toEqual([HASH]);
    expect([drawnAt(box), drawnAt(sail)]).toEqual([expect.any(Array), undefined]);
    files.set(HASH, await triangle(false));
    take(setPlacement(project, sail, 'Name', { name: 'mainsail' }));
    expect(await follow()).toEqual([]);
    expect(drawnAt(sail)).toBeDefined();
  });

  it('play their clip over scene time, each placement on its own', async () => {
    files.set(HASH, await triangle(true));
    const file = { ...FILE, clips: [{ name: 'slides', seconds: 1 }] };
    const [early, late] = [stand(file, [0, 0, 0]), stand(file, [0, 0, 5])];
    const clip = project.placements[late]!.clip!;
    take(setPlacement(project, late, 'Clip', { clip: { ...clip, startFlicks: flicksFromSeconds(0.25), loop: false } }));
    await follow();
    scene.goTo(flicksFromSeconds(0.5));
    const x = (id: string) => {
      let found: Object3D | undefined;
      scene.scene.traverse((object) => {
        if (object.userData['placementId'] === id) found = object;
      });
      const sail = found?.getObjectByName('sail');
      sail?.updateWorldMatrix(true, false);
      return sail && new Vector3().setFromMatrixPosition(sail.matrixWorld).x;
    };
    expect([x(early), x(late)]).toEqual([expect.closeTo(1, 5), expect.closeTo(0.5, 5)]);
  });

  it('that come late do not bring back what the project has left behind', async () => {
    let arrive: (file: ArrayBuffer) => void = () => undefined;
    files.set(HASH, await triangle(false));
    const slow = new Promise<ArrayBuffer>((resolve) => (arrive = resolve));
    files.set('d'.repeat(64), slow as unknown as ArrayBuffer);
    const sail = stand({ ...FILE, hash: 'd'.repeat(64) }, [0, 0, 0]);
    const first = follow();
    take({
      name: 'Out',
      operations: [{ op: 'delete', kind: 'placement', id: sail, baseRevision: project.placements[sail]!.revision }],
    });
    const box = put('Box', [2, 0, 0]);
    await follow();
    arrive(files.get(HASH)!);
    await first;
    expect([drawnAt(sail), drawnAt(box)]).toEqual([undefined, expect.any(Array)]);
  });
});
