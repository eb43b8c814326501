import { sceneSpanOf } from '../camera';
import { setCamera } from '../edits/camera';
import {
  closeGap,
  deleteTake,
  nameAfter,
  setEntry,
  setSceneStart,
  setShot,
  trimEnd,
  trimStart,
} from '../edits/sequence';
import type { Project } from '../model';
import { camerasInOrder, CUT, moveOf, sequencesInOrder } from '../model';
import type { CutShot } from '../sequence';
import { cutOf, handlesOf, reachOfTransition, sceneEndOf, sceneStretchOf } from '../sequence';
import { flicksAtFrame, flicksPerFrame, framesInFlicks, framesPerSecond } from '../time';
import type { Finding } from './finding';

/** How long a camera may rest after its move before it looks forgotten, seconds. */
const REST_S = 1;

type Found = Omit<Finding, 'topic' | 'shotId'>;

/** What keeps cuts from being covered: gaps, cameras that are not there, frames that nobody shows or that are shown twice. */
export function coverageFindings(project: Project): Finding[] {
  return sequencesInOrder(project).flatMap(({ id }) => coverageOf(project, id));
}

/** The same of one sequence; nothing where there is none of this id. */
export function coverageOf(project: Project, sequenceId: string): Finding[] {
  const sequence = project.sequences[sequenceId];
  if (!sequence) return [];
  const { shots } = cutOf(project, sequenceId);
  if (shots.length === 0) {
    const message = `${sequence.name} has no shots`;
    return [{ code: 'sequence-empty', topic: 'sequence', sequenceId, message, mend: 'Add a shot' }];
  }
  const first = new Map([...shots].reverse().map(({ shot }) => [shot.name.toLowerCase(), shot.id]));
  return shots.flatMap((placed) =>
    [
      ...nameOf(placed, first),
      ...gapBefore(placed),
      ...cameraOf(project, placed),
      ...takesOf(placed),
      ...moveIn(project, placed),
      ...beyondScene(project, placed),
      ...shownTwice(project, shots, placed),
      ...transitionsOf(project, shots, placed),
    ].map((found): Finding => ({ ...found, topic: 'sequence', shotId: placed.shot.id })),
  );
}

/** A shot that is called like one before it: two who add shots at once both take the next name. */
function nameOf({ shot }: CutShot, first: ReadonlyMap<string, string>): Found[] {
  if (first.get(shot.name.toLowerCase()) === shot.id) return [];
  const fix = (now: Project) => {
    const taken = new Set(Object.values(now.shots).map(({ name }) => name));
    return setShot(now, shot.id, 'Name', { name: nameAfter(shot.name, taken) });
  };
  return [{ code: 'same-name', message: `Two shots are called ${shot.name}`, mend: 'Name this one anew', fix }];
}

function gapBefore({ shot, gapFrames }: CutShot): Found[] {
  if (gapFrames === 0) return [];
  const message = `Nothing is seen for ${gapFrames} frames before ${shot.name}`;
  return [{ code: 'gap', message, mend: 'Close the gap', fix: (project) => closeGap(project, shot.id) }];
}

function cameraOf(project: Project, placed: CutShot): Found[] {
  const { shot } = placed;
  if (shot.insideId !== null) return [];
  if (shot.cameraId === null) {
    const message = `${shot.name} has no camera${shot.lostCamera ? ` (${shot.lostCamera} was deleted)` : ''}`;
    const there = cameraUnder(project, placed);
    if (!there) return [{ code: 'shot-without-camera', message, mend: 'Choose a camera' }];
    const fix = (now: Project) => setShot(now, shot.id, 'Camera', { cameraId: there.id, lostCamera: '' });
    return [{ code: 'shot-without-camera', message, mend: `Use ${there.name}`, fix }];
  }
  const camera = project.cameras[shot.cameraId];
  if (!camera?.disabled) return [];
  const message = `${shot.name} looks through ${camera.name}, which is disabled`;
  const fix = (now: Project) => setCamera(now, camera.id, 'Enabled', { disabled: false });
  return [{ code: 'camera-disabled', message, mend: 'Enable it', fix }];
}

/** The first camera whose move goes on under a shot. */
function cameraUnder(project: Project, placed: CutShot) {
  const [from, to] = sceneStretchOf(placed);
  return camerasInOrder(project).find((camera) => {
    const span = sceneSpanOf(moveOf(project, camera.id));
    return !camera.disabled && span && span[0] < to && span[1] > from;
  });
}

function takesOf({ shot }: CutShot): Found[] {
  return shot.takes
    .filter(({ cameraId }) => cameraId === null)
    .map((take) => ({
      code: 'take-lost',
      message: `Take ${take.name} of ${shot.name} has no camera${take.lostCamera ? ` (${take.lostCamera} was deleted)` : ''}`,
      mend: 'Delete the take',
      fix: (project) => deleteTake(project, shot.id, take.id),
    }));
}

/** A shot that outlasts the move that it shows, or shows none of a move that its camera has. */
function moveIn(project: Project, placed: CutShot): Found[] {
  const { shot } = placed;
  const span = shot.cameraId === null ? undefined : sceneSpanOf(moveOf(project, shot.cameraId));
  if (!span || span[0] === span[1] || shot.insideId !== null) return [];
  const [from, to] = sceneStretchOf(placed);
  const name = project.cameras[shot.cameraId ?? '']?.name ?? '';
  if (span[1] <= from || span[0] >= to) {
    const message = `${name} does not move in ${shot.name}: its move is at another time`;
    const fix = (now: Project) => setSceneStart(now, shot.id, Math.max(0, span[0]));
    return [{ code: 'still-shot', message, mend: 'Show the move', fix }];
  }
  const { rate } = project.head;
  const past = framesInFlicks(to - flicksPerFrame(rate) - span[1], rate);
  const isPlain = shot.retime.speed === 1 && shot.retime.ramp.length + shot.retime.holds.length === 0;
  if (!isPlain || past <= REST_S * framesPerSecond(rate)) return [];
  const message = `${shot.name} goes on for ${past} frames after the move of ${name} has ended`;
  return [
    {
      code: 'past-move',
      message,
      mend: 'End it with the move',
      fix: (now) => trimEnd(now, shot.id, -past, { ripple: true }),
    },
  ];
}

/** Frames before the scene begins, or past the end of the sequence that a shot shows. */
function beyondScene(project: Project, placed: CutShot): Found[] {
  const { shot, frameCount } = placed;
  const { rate } = project.head;
  const [from, to] = sceneStretchOf(placed);
  if (from < 0) {
    const frames = framesInFlicks(-from, rate);
    const message = `${frames} frames of ${shot.name} lie before the scene begins`;
    const fix = (now: Project) => trimStart(now, shot.id, Math.min(frames, frameCount - 1), { ripple: true });
    return [{ code: 'frames-missing', message, mend: 'Leave them out', fix }];
  }
  if (shot.insideId === null) return [];
  const inside = project.sequences[shot.insideId];
  const past = framesInFlicks(to, rate) - cutOf(project, shot.insideId).frameCount;
  if (past <= 0) return [];
  const message = `${shot.name} goes on for ${past} frames after ${inside?.name ?? 'its sequence'} has ended`;
  const fix = (now: Project) => trimEnd(now, shot.id, -Math.min(past, frameCount - 1), { ripple: true });
  return [{ code: 'frames-missing', message, mend: 'Leave them out', fix }];
}

/** The same frames of the same camera in an earlier shot. */
function shownTwice(project: Project, shots: readonly CutShot[], placed: CutShot): Found[] {
  const [from, to] = sceneStretchOf(placed);
  const { rate } = project.head;
  for (const other of shots.slice(0, placed.index)) {
    const { cameraId, insideId } = other.shot;
    const isSame =
      insideId !== null ? insideId === placed.shot.insideId : cameraId !== null && cameraId === placed.shot.cameraId;
    if (!isSame) continue;
    const [first, last] = sceneStretchOf(other);
    const shared = framesInFlicks(Math.min(to, last) - Math.max(from, first), rate);
    if (shared <= 0) continue;
    const message = `${placed.shot.name} shows ${shared} frames that ${other.shot.name} has shown`;
    const fix = (now: Project) => setSceneStart(now, placed.shot.id, Math.max(0, sceneEndOf(other)));
    return [{ code: 'same-frames', message, mend: 'Go on after them', fix }];
  }
  return [];
}

/** Transitions that take more than the handles hold, or that lie over each other. */
function transitionsOf(project: Project, shots: readonly CutShot[], placed: CutShot): Found[] {
  const { shot, frameCount } = placed;
  const { rate } = project.head;
  const into = reachOfTransition(shot.entry, rate);
  const next = shots[placed.index + 1];
  const out = reachOfTransition(next?.shot.entry ?? null, rate);
  const fade = reachOfTransition(shot.fadeOut, rate);
  const found: Found[] = [];
  if (into.after + Math.max(out.before, fade.before) > frameCount) {
    const message = `The transitions of ${shot.name} are longer than its ${frameCount} frames and lie over each other`;
    const fix = (now: Project) => setEntry(now, shot.id, CUT);
    found.push({ code: 'transitions-overlap', message, mend: 'Cut into it', fix });
  }
  const { inFrames, outFrames } = handlesOf(project, shot);
  const [needIn, needOut] = [into.before, Math.max(next?.shot.entry.kind === 'dissolve' ? out.after : 0, fade.after)];
  const sides = [needIn > inFrames ? `${needIn} before` : '', needOut > outFrames ? `${needOut} after` : ''].filter(
    Boolean,
  );
  if (sides.length > 0) {
    const has = `${inFrames} and ${outFrames}`;
    const message = `${shot.name} needs handles of ${sides.join(' and ')} it for its transitions, and has ${has}`;
    const parts = {
      ...(needIn > inFrames && { handleInFlicks: flicksAtFrame(needIn, rate) }),
      ...(needOut > outFrames && { handleOutFlicks: flicksAtFrame(needOut, rate) }),
    };
    found.push({
      code: 'handles-short',
      message,
      mend: 'Lengthen them',
      fix: (now) => setShot(now, shot.id, 'Handles', parts),
    });
  }
  return found;
}
