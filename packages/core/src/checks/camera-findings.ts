import type { CameraState } from '../camera';
import { distanceAlongAxis } from '../camera';
import type { Edit } from '../edits';
import { setCamera } from '../edits/camera';
import { farthestUsedMm, subjectFraming } from '../framing';
import type { Camera, Channel, Placement, Project } from '../model';
import { boundsOf, camerasInOrder, channelFace, moveOf } from '../model';
import type { LensDemand, LensExcess } from '../optics';
import { lensExcesses, STRONGEST_BARREL_PERCENT } from '../optics';
import { isShown, placementAt, placementBox, subjectPointAt, subjectsIn } from '../set';
import { difference, inverseRotation, turned } from '../space';
import { framesInFlicks } from '../time';
import type { Finding } from './finding';
import type { Moment } from './watched';
import { momentsOf } from './watched';

/** Names that a camera gets when nobody has named it. */
const UNNAMED = /^Camera \d+( copy)*$/;

/** What would spoil a camera's pictures, each with the way to its mend. */
export function cameraFindings(project: Project): Finding[] {
  const cameras = camerasInOrder(project);
  const delivery: Finding[] =
    project.head.deliveryChosen || cameras.length === 0
      ? []
      : [
          {
            code: 'delivery-unset',
            topic: 'camera',
            part: 'framing',
            message: 'Nobody has chosen the delivery size yet',
            mend: 'Choose it',
          },
        ];
  return [...delivery, ...cameras.flatMap((camera) => knownFindings(project, camera))];
}

const known = new WeakMap<
  Camera,
  { readonly surroundings: readonly unknown[]; readonly findings: readonly Finding[] }
>();

/** The findings of a camera, looked for again only when something that decides them has changed. */
function knownFindings(project: Project, camera: Camera): readonly Finding[] {
  const shots = Object.values(project.shots).filter(({ cameraId }) => cameraId === camera.id);
  const { head, placements, assets, lensKits, lightGroups, measured } = project;
  const surroundings = [
    ...[head, placements, assets, lensKits, lightGroups, measured[camera.id], moveOf(project, camera.id)],
    ...shots,
  ];
  const before = known.get(camera);
  if (
    before?.surroundings.length === surroundings.length &&
    before.surroundings.every((one, i) => one === surroundings[i])
  ) {
    return before.findings;
  }
  const findings = findingsOfCamera(project, camera);
  known.set(camera, { surroundings, findings });
  return findings;
}

function findingsOfCamera(project: Project, camera: Camera): Finding[] {
  const shared = { topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  if (UNNAMED.test(camera.name)) {
    found.push({
      ...shared,
      code: 'camera-unnamed',
      part: 'name',
      message: `${camera.name} has no name of its own`,
      mend: 'Name it',
    });
  }
  if (!moveOf(project, camera.id) && camera.pose.positionM.every((x) => x === 0)) {
    const message = `${camera.name} still stands at the origin`;
    found.push({ ...shared, code: 'camera-at-origin', part: 'place', message, mend: 'Give it a place' });
  }
  const moments = momentsOf(project, camera);
  return [
    ...found,
    ...keyFindings(project, camera),
    ...goneFindings(project, camera),
    ...lensFindings(project, camera, moments),
    ...focusFindings(project, camera, moments),
    ...placeFindings(project, camera, moments),
  ];
}

/** What was kept before its channel had limits: it is read within them. */
function keyFindings(project: Project, camera: Camera): Finding[] {
  const curves = moveOf(project, camera.id)?.curves ?? {};
  const shared = { topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  for (const [channel, curve] of Object.entries(curves) as [Channel, (typeof curves)[string]][]) {
    const { min, max } = boundsOf(channel);
    const beyond = curve.find(({ value }) => value < min || value > max);
    if (!beyond) continue;
    const { name } = channelFace(channel, project.lightGroups);
    const message = `${camera.name} has a key of ${name} at ${beyond.value}; it is read as ${beyond.value < min ? min : max}`;
    found.push({ ...shared, code: 'key-impossible', message, mend: 'Look at its keys', atFlicks: beyond.atFlicks });
  }
  if (camera.lens.distortionPercent < STRONGEST_BARREL_PERCENT) {
    const message = `${camera.name} has a barrel of ${camera.lens.distortionPercent} %; it is drawn at ${STRONGEST_BARREL_PERCENT} %`;
    found.push({ ...shared, code: 'lens-exceeded', part: 'lens', message, mend: 'Look at it' });
  }
  return found;
}

/** Whom a camera is carried by, aimed at or focused on, and who is not there any more. */
function goneFindings(project: Project, camera: Camera): Finding[] {
  const { rig, aim, focus, framing } = camera;
  const gone = (id: string | null) => id !== null && !project.placements[id];
  const shared = { code: 'subject-gone', topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  const carried = rig.kind === 'follow' || rig.kind === 'orbit' ? rig.subjectId : null;
  if (gone(carried)) {
    const what = rig.kind === 'follow' ? 'follows' : 'goes round';
    const message = `${camera.name} ${what} something that is gone`;
    found.push({ ...shared, part: 'place', message, mend: 'Choose another' });
  }
  if (aim.kind === 'subject' && gone(aim.placementId)) {
    found.push({
      ...shared,
      part: 'place',
      message: `${camera.name} is aimed at something that is gone`,
      mend: 'Aim it',
    });
  }
  if (gone(framing.subjectId)) {
    const message = `${camera.name} frames something that is gone`;
    found.push({ ...shared, part: 'framing', message, mend: 'Choose another' });
  }
  const racked = focus.mode === 'follow' && focus.racks.some(({ subjectId }) => gone(subjectId));
  if (racked) {
    const message = `${camera.name} racks its focus to something that is gone`;
    found.push({ ...shared, part: 'focus', message, mend: 'Choose another' });
  }
  return found;
}

/** Of each thing that is asked of the lens beyond what it has, the moment that asks for most. */
function lensFindings(project: Project, camera: Camera, moments: readonly Moment[]): Finding[] {
  const worst = new Map<string, { readonly excess: LensExcess; readonly atFlicks: number; readonly by: number }>();
  for (const { atFlicks, state } of moments) {
    const { kitLens, focalLengthMm } = state.lens;
    if (!kitLens) continue;
    const { fStop, distanceM: focusM } = state.focus;
    const cornerMm = farthestUsedMm(state);
    for (const excess of lensExcesses(kitLens, { focalLengthMm, fStop, focusM, cornerMm })) {
      const by = excessOf(excess, { focalLengthMm, fStop, focusM, cornerMm });
      if (by > (worst.get(excess.message)?.by ?? -1)) worst.set(excess.message, { excess, atFlicks, by });
    }
  }
  const found = [...worst.values()].map(({ excess: { what, message, mend }, atFlicks }): Finding => ({
    code: 'lens-exceeded',
    topic: 'camera',
    cameraId: camera.id,
    part: what === 'focus' ? 'focus' : 'lens',
    message: `${camera.name}: ${message}`,
    atFlicks,
    ...mendOf(project, camera, what, mend),
  }));
  const dark = moments.find(({ state }) => Math.abs(state.exposure.missedStops) > 0.01);
  if (!dark) return found;
  const { missedStops } = dark.state.exposure;
  const message = `${camera.name} is ${Math.abs(missedStops).toFixed(1)} stops too ${missedStops > 0 ? 'dark' : 'bright'} for its keyed EV: neither ISO nor neutral density goes further`;
  const shared = { code: 'ev-not-reached', topic: 'camera', cameraId: camera.id, part: 'exposure' } as const;
  return [...found, { ...shared, message, mend: 'Look at its keys', atFlicks: dark.atFlicks }];
}

/** How far beyond a lens something is, as a share. */
function excessOf({ what, mend }: LensExcess, demand: LensDemand): number {
  if (what === 'image-circle') return demand.cornerMm;
  const asked = { 'focal-length': demand.focalLengthMm, stop: demand.fStop, focus: demand.focusM }[what];
  return Math.abs(Math.log(asked / (mend ?? asked)));
}

/** A value of the camera's own is mended at once; one that has keys is looked at. */
function mendOf(project: Project, camera: Camera, what: LensExcess['what'], mend: number | undefined) {
  const channel = what === 'stop' ? 'fStop' : 'focalLength';
  const keyed = (moveOf(project, camera.id)?.curves[channel]?.length ?? 0) > 0;
  if (mend === undefined || keyed || what === 'focus') return { mend: 'Look at it' };
  return { mend: `Use ${what === 'stop' ? `ƒ${mend}` : `${mend} mm`}`, fix: fixOf(camera, what, mend) };
}

function fixOf(camera: Camera, what: LensExcess['what'], mend: number): (project: Project) => Edit {
  return (project) =>
    what === 'stop'
      ? setCamera(project, camera.id, `ƒ${mend}`, { focus: { ...camera.focus, fStop: mend } })
      : setCamera(project, camera.id, `Lens ${mend} mm`, { lens: { ...camera.lens, focalLengthMm: mend } });
}

function focusFindings(project: Project, camera: Camera, moments: readonly Moment[]): Finding[] {
  const shared = { topic: 'camera', cameraId: camera.id } as const;
  const found: Finding[] = [];
  const lost = camera.focus.mode === 'follow' && moments.find(({ state }) => state.focus.drivenBy !== 'follow');
  if (lost) {
    const message = `${camera.name} follows focus on something that is gone`;
    found.push({ ...shared, code: 'focus-on-nothing', part: 'focus', message, mend: 'Choose a subject' });
  }
  const behind = moments.find(({ atFlicks, state }) => isBehind(project, state, atFlicks));
  if (behind) {
    const name = project.placements[behind.state.focus.subjectId ?? '']?.name ?? 'a subject';
    const message = `${camera.name} follows focus on ${name}, who is behind it${whenOf(project, behind.atFlicks, moments)}`;
    const mend = 'Choose a subject';
    found.push({ ...shared, code: 'focus-on-nothing', part: 'focus', message, mend, atFlicks: behind.atFlicks });
  }
  const subjects = subjectsIn(project);
  const chosenId = camera.framing.subjectId;
  const chosen = chosenId === null ? undefined : project.placements[chosenId];
  let [blurred, unseen]: (number | undefined)[] = [];
  for (const { atFlicks, state } of moments) {
    const framed = subjects
      .flatMap((placement) => subjectFraming(project, placement, state, atFlicks) ?? [])
      .filter((one) => one.inFrame);
    const sharp = framed.some(({ distanceM }) => distanceM >= state.focus.nearM && distanceM <= state.focus.farM);
    // Who follows something means that, whatever else is seen.
    if (framed.length > 0 && !sharp && state.focus.drivenBy !== 'follow') blurred ??= atFlicks;
    if (!chosen) continue;
    const own = subjectFraming(project, chosen, state, atFlicks);
    if (!own?.inFrame) unseen ??= atFlicks;
  }
  if (blurred !== undefined) {
    const message = `${camera.name} is focused on none of the subjects it sees${whenOf(project, blurred, moments)}`;
    const mend = 'Look at the focus';
    found.push({ ...shared, code: 'focus-on-nothing', part: 'focus', message, mend, atFlicks: blurred });
  }
  if (chosen && unseen !== undefined) {
    const message = `${chosen.name} is out of frame of ${camera.name}${whenOf(project, unseen, moments)}`;
    found.push({
      ...shared,
      code: 'subject-out-of-frame',
      part: 'place',
      message,
      mend: 'Look at it',
      atFlicks: unseen,
    });
  }
  return found;
}

/** Whether whom the focus follows has come behind the camera. */
function isBehind(project: Project, state: CameraState, atFlicks: number): boolean {
  const { drivenBy, subjectId, rack } = state.focus;
  const subject = project.placements[subjectId ?? ''];
  if (drivenBy !== 'follow' || rack !== null || !subject) return false;
  return distanceAlongAxis(state, subjectPointAt(project, subject, 'middle', atFlicks)) <= 0;
}

/** When something is first seen, in words; nothing where it is so from the beginning. */
function whenOf(project: Project, atFlicks: number, moments: readonly Moment[]): string {
  if (atFlicks === moments[0]?.atFlicks) return '';
  return ` from scene frame ${project.head.firstFrame + framesInFlicks(atFlicks, project.head.rate)} on`;
}

/** Where no camera can stand: inside something solid, or under the ground. */
function placeFindings(project: Project, camera: Camera, moments: readonly Moment[]): Finding[] {
  const shared = { topic: 'camera', cameraId: camera.id, part: 'place', mend: 'Look at it' } as const;
  for (const { atFlicks, state } of moments) {
    const { inside, under } = placesOf(project, state, atFlicks);
    const when = whenOf(project, atFlicks, moments);
    if (inside) {
      const message = `${camera.name} is inside ${inside.name}${when}`;
      return [{ ...shared, code: 'camera-inside', message, atFlicks, placementId: inside.id }];
    }
    if (under) {
      const message = `${camera.name} is under ${under.name}${when}`;
      return [{ ...shared, code: 'camera-underground', message, atFlicks, placementId: under.id }];
    }
  }
  return [];
}

/** Kinds that have an inside where nothing else is. */
const SOLID: ReadonlySet<string> = new Set(['box', 'wall', 'cylinder', 'column', 'figure', 'animal', 'vehicle']);

/** How far under the ground a camera is that is not just level with it, metres. */
const UNDER_M = 0.02;

function placesOf(project: Project, { positionM }: CameraState, atFlicks: number) {
  let [inside, under]: (Placement | undefined)[] = [];
  for (const placement of Object.values(project.placements)) {
    const { kind } = placement.piece;
    if ((!SOLID.has(kind) && kind !== 'ground') || !isShown(project, placement)) continue;
    const frame = placementAt(project, placement.id, atFlicks);
    const [x, y, z] = turned(difference(positionM, frame.positionM), inverseRotation(frame.quaternion));
    const { minM, maxM } = placementBox(project, placement);
    const over = x > minM[0] && x < maxM[0] && z > minM[2] && z < maxM[2];
    if (!over) continue;
    if (kind === 'ground') {
      if (y < minM[1] - UNDER_M) under ??= placement;
    } else if (y > minM[1] && y < maxM[1]) inside ??= placement;
  }
  return { inside, under };
}
