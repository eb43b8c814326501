/** Runs in a bare page: what a stage holds of the graphics over many imports and renders, and what comes after they were lost. */
import type { GeometryFile, Placement, Project } from '@arvex/core';
import { cameraAt, CAMERA_DEFAULTS, newProject, PIECE_OFFERS, PLACEMENT_DEFAULTS } from '@arvex/core';
import type { StagedSet } from '@arvex/stage';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const hashOf = (n: number) => String(n).padStart(64, '0');
const FACTS: Omit<GeometryFile, 'hash'> = {
  kind: 'geometry',
  bytes: 1,
  triangles: 1,
  minM: [0, 0, 0],
  maxM: [1, 1, 1],
  footprints: [],
  clips: [],
  deforms: false,
  leftOut: [],
};

/** A set with an imported file, a picture on a card and two pieces; each turn has files and sizes of its own. */
function projectOf(turn: number): Project {
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Saltmarsh Light');
  const [file, picture] = [id(100 + 2 * turn), id(101 + 2 * turn)];
  const standing = (n: number, parts: Partial<Placement>): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: id(1000 + 10 * turn + n),
    revision: 'first',
    setId: id(2),
    name: `Thing ${n}`,
    piece: { kind: 'box', widthM: 1 + turn / 100, heightM: 1, depthM: 1 },
    positionM: [n - 1, 0, -6],
    ...parts,
  });
  const placements = [
    standing(0, {}),
    standing(1, { piece: { kind: 'geometry', eyesM: null }, assetId: file }),
    standing(2, { piece: { kind: 'card', widthM: 1, heightM: 1, lit: false }, assetId: picture }),
    standing(3, { piece: PIECE_OFFERS[turn % PIECE_OFFERS.length]?.piece ?? { kind: 'group' } }),
  ];
  const shared = { revision: 'first', name: 'File' };
  const camera = { ...CAMERA_DEFAULTS, id: id(5), revision: 'first', number: 1, name: 'Camera 1' };
  return {
    ...empty,
    cameras: { [camera.id]: camera },
    assets: {
      [file]: { ...shared, id: file, file: { ...FACTS, hash: hashOf(2 * turn) } },
      [picture]: {
        ...shared,
        id: picture,
        file: {
          kind: 'picture',
          hash: hashOf(2 * turn + 1),
          bytes: 1,
          widthPx: 8,
          heightPx: 8,
          mediaType: 'image/png',
        },
      },
    },
    placements: Object.fromEntries(placements.map((one) => [one.id, one])),
  };
}

function stageOf(glb: Uint8Array<ArrayBuffer>): Stage {
  return new Stage(new OffscreenCanvas(16, 16), {
    geometry: () => Promise.resolve(glb.slice().buffer),
    lut: () => Promise.reject(new Error('none')),
    picture: () => {
      const canvas = new OffscreenCanvas(8, 8);
      canvas.getContext('2d')?.fillRect(0, 0, 8, 8);
      return canvas.convertToBlob();
    },
  });
}

function draw(stage: Stage, project: Project): Float32Array {
  const view = viewOf(cameraAt(project, id(5), 0), 0);
  stage.drawFine(view, 32, 18, 2);
  return stage.light(view, 32, 18, 1);
}

/** What is held after each of some turns in which everything in the set is replaced by something else. */
async function heldOver(bytes: number[], turns: number) {
  const stage = stageOf(new Uint8Array(bytes));
  const held: { geometries: number; textures: number }[] = [];
  let before: StagedSet = NOTHING_STAGED;
  for (let turn = 0; turn < turns; turn++) {
    // The same pieces come round again and again: each turn is compared with the one in which they stood before.
    const project = projectOf(turn);
    await stage.follow(setPatch(before, project));
    before = project;
    draw(stage, project);
    held.push({ ...stage.held });
  }
  await stage.follow(setPatch(before, { ...NOTHING_STAGED, sets: projectOf(0).sets }));
  draw(stage, projectOf(0));
  const left = { ...stage.held };
  stage.dispose();
  return { held, left, offers: PIECE_OFFERS.length };
}

/** Whether a picture is the same after the graphics were lost and came back, and what was told meanwhile. */
async function afterLoss(bytes: number[]) {
  const stage = stageOf(new Uint8Array(bytes));
  const project = projectOf(1);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const before = draw(stage, project);
  const told: boolean[] = [];
  const next = () => new Promise<void>((resolve) => (stage.contextLost = (lost) => (told.push(lost), resolve())));
  const extension = stage.canvas.getContext('webgl2')?.getExtension('WEBGL_lose_context');
  let came = next();
  extension?.loseContext();
  await came;
  came = next();
  await new Promise((resolve) => setTimeout(resolve, 50)); // they can come back once their loss has been told to all
  extension?.restoreContext();
  await came;
  const after = draw(stage, project);
  const { graphics } = stage;
  stage.dispose();
  const lit = before.reduce((sum, value) => sum + value, 0);
  return { told, lit, graphics, apart: Math.max(...before.map((value, i) => Math.abs(value - (after[i] ?? 0)))) };
}

Object.assign(globalThis, { heldOver, afterLoss });
