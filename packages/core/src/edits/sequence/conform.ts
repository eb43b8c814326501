import { dequal } from 'dequal/lite';
import { cameraAt, wornVariation } from '../../camera';
import type { Key } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, OwnGroup, Project, Variation } from '../../model';
import { CAMERA_DEFAULTS, existing } from '../../model';
import type { CutShot } from '../../sequence';
import { cutOf, sceneTimeOf } from '../../sequence';
import { flicksAtFrame } from '../../time';
import { nextCameraNumber } from '../camera';
import type { Edit } from '../edit';
import { creation } from '../edit';
import { sceneEv } from '../../exposure';

/** What one camera cannot be for a whole cut, in words. */
export interface Conformed {
  readonly edit: Edit;
  readonly leftOut: readonly string[];
}

/**
 * One camera for the whole cut: at each frame it is where the cut's camera is, with its angle of view, focus and f-stop, and it steps at
 * each joint. Its time is the cut's: frame 0 of the cut is frame 0 of the scene. It has one film back (the first shot's), so another
 * camera's focal length is the one that gives the same width of view there.
 * @throws CoreError `out-of-range` where the cut has no frames of a camera.
 */
export function conformCut(project: Project, sequenceId: string, cameraId: string): Conformed {
  const { name } = existing(project, 'sequence', sequenceId);
  const { rate } = project.head;
  const { shots } = cutOf(project, sequenceId);
  const first = shots.find(({ shot }) => shot.cameraId !== null && project.cameras[shot.cameraId]);
  const model = project.cameras[first?.shot.cameraId ?? ''];
  if (!first || !model) throw new CoreError('out-of-range', `${name} has no shot of a camera.`);
  const width = cameraAt(project, model.id, first.sceneStartFlicks, undefined, first.shot.variationId).framing.used
    .widthMm;
  const curves: Record<string, Key[]> = {};
  const leftOut = new Set<string>();
  for (const placed of shots) {
    const { shot, startFrame, frameCount } = placed;
    const camera = project.cameras[shot.cameraId ?? ''];
    if (!camera) {
      leftOut.add(`${shot.name} has no camera of its own: the one before it stays.`);
      continue;
    }
    for (let frame = 0; frame < frameCount; frame++) {
      const state = cameraAt(project, camera.id, sceneTimeOf(placed, frame, rate), undefined, shot.variationId);
      const same = width / state.framing.used.widthMm;
      const values = {
        positionX: state.positionM[0],
        positionY: state.positionM[1],
        positionZ: state.positionM[2],
        pan: state.panDeg,
        tilt: state.tiltDeg,
        roll: state.rollDeg,
        focalLength: state.lens.focalLengthMm * same,
        focusDistance: Math.min(state.focus.distanceM, LARGEST_M),
        fStop: state.focus.fStop,
        ev: sceneEv(state.exposure),
      };
      // Held at its last frame, so that nothing lies between the shots.
      const shape = frame === frameCount - 1 ? 'hold' : 'linear';
      const atFlicks = flicksAtFrame(startFrame + frame, rate);
      for (const [channel, value] of Object.entries(values)) {
        (curves[channel] ??= []).push({ atFlicks, value, shape });
      }
    }
    for (const words of notCarried(project, placed, first)) leftOut.add(`${shot.name}: ${words}`);
    if (shot.entry.kind !== 'cut' || shot.fadeOut)
      leftOut.add(`${shot.name}: it steps where the cut dissolves or fades.`);
  }
  const { pose: _pose, rig: _rig, aim: _aim, handheld: _hand, id: _id, revision: _revision, ...own } = model;
  const made = {
    ...CAMERA_DEFAULTS,
    ...own,
    rig: CAMERA_DEFAULTS.rig,
    aim: CAMERA_DEFAULTS.aim,
    handheld: CAMERA_DEFAULTS.handheld,
  };
  const focus: Camera['focus'] = { ...model.focus, mode: 'manual', subjectId: null, racks: [] };
  // It wears no variation: what the first shot shows of one is its own.
  const worn = wornVariation(model, first.shot.variationId);
  const groups: OwnGroup[] = [
    ...(worn?.lookId == null ? [] : ['look' as const]),
    ...(worn?.lightMix == null ? [] : ['lightMix' as const]),
    ...(worn?.exposure == null ? [] : ['exposure' as const]),
  ];
  const camera = {
    ...made,
    focus,
    lens: { ...model.lens, lensId: null },
    headOffsetMm: CAMERA_DEFAULTS.headOffsetMm,
    variations: {},
    wears: null,
    own: [...new Set([...model.own, ...groups])],
    lookId: worn?.lookId ?? model.lookId,
    lightMix: worn?.lightMix ?? model.lightMix,
    exposure: worn?.exposure ?? model.exposure,
  };
  const edit: Edit = {
    name: `One camera of ${name}`,
    operations: [
      creation('camera', { ...camera, id: cameraId, number: nextCameraNumber(project), name: `${name}, conformed` }),
      creation('move', { id: cameraId, cameraId, curves, after: {}, marks: [] }),
    ],
  };
  return { edit, leftOut: [...leftOut] };
}

/** A focus at infinity, as a key can hold it, metres. */
const LARGEST_M = 10_000;

/** What of the camera of a shot, as that shot shows it, the first shot's camera does not carry. */
function notCarried({ cameras }: Pick<Project, 'cameras'>, shown: CutShot, first: CutShot): string[] {
  const [camera, model] = [cameras[shown.shot.cameraId ?? ''], cameras[first.shot.cameraId ?? '']];
  if (!camera || !model) return [];
  const [worn, own] = [wornVariation(camera, shown.shot.variationId), wornVariation(model, first.shot.variationId)];
  const differs = (a: unknown, b: unknown) => !dequal(a, b);
  return [
    ...(differs(camera.filmBack, model.filmBack) ? ['its film back, made up for by the focal length.'] : []),
    ...(differs(worn?.lookId ?? camera.lookId, own?.lookId ?? model.lookId) ? ['its look.'] : []),
    ...(differs(worn?.lightMix ?? camera.lightMix, own?.lightMix ?? model.lightMix) ? ['its light mix.'] : []),
    ...(differs(exposureOf(camera, worn), exposureOf(model, own)) ? ['its shutter, ISO and ND: its EV is kept.'] : []),
    ...(differs([camera.lens.shiftXMm, camera.lens.shiftYMm], [model.lens.shiftXMm, model.lens.shiftYMm])
      ? ['its lens shift.']
      : []),
    ...(differs(camera.lens.distortionPercent, model.lens.distortionPercent) ? ['its distortion.'] : []),
  ];
}

function exposureOf(camera: Camera, worn: Variation | undefined) {
  return worn?.exposure ?? (camera.own.includes('exposure') ? camera.exposure : null);
}
