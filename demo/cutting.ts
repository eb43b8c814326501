import type { Edit, Project, SoundFile } from '@arvex/core';
import {
  addMarkers,
  addSound,
  addTake,
  nameTake,
  setContinues,
  setEntry,
  setFadeOut,
  setSequence,
  setShot,
  setSound,
  setSpeed,
  showingOf,
} from '@arvex/core';
import { frame } from './staging';

/** What a step of the cutting has to work with. */
interface CuttingRoom {
  readonly sequenceId: string;
  readonly shotId: (index: number) => string;
  readonly idOf: (words: string) => string;
  readonly sound: SoundFile;
}

type Cutting = (project: Project, room: CuttingRoom) => Edit;

/** Frames that each shot has beyond its ends. */
const HANDLE = 12;
const BLACK = '#000000';

/** What happens in each shot, and what is said or heard. */
const WORDS: readonly (readonly [description: string, spoken: string])[] = [
  ['Dusk over the flats. The lighthouse is dark.', ''],
  ['The keeper walks out along the pier with his lantern.', ''],
  ['A rowing boat comes out of the dusk.', 'COURIER: You there! Light-keeper!'],
  ['The courier holds up the spare mantle.', 'COURIER: The last one they had.'],
  ['The keeper takes it.', 'KEEPER: Then it had better burn.'],
  ['Round the glass lens: the mantle begins to glow.', ''],
  ['The lamp takes.', 'KEEPER: There you are.'],
  ['Night. The beam goes out over the flats.', ''],
];

/** Shots that go on with the action of the one before them. */
const GOING_ON = [1, 2, 4, 6, 7];

/** Frames of the whole cut. */
export const CUT_FRAMES = 1081;

/** Where the bell is heard, frames of the cut. */
export const BELLS = [228, 524, 1004];

/** How the shots of the demo are cut together: handles, an alternate, slow motion, a dissolve, a fade. */
export const CUTTING: readonly Cutting[] = [
  (project, { sequenceId }) =>
    setSequence(project, sequenceId, 'Handles', { handleInFlicks: frame(HANDLE), handleOutFlicks: frame(HANDLE) }),
  ...GOING_ON.map(
    (index): Cutting =>
      (project, { shotId }) =>
        setContinues(project, shotId(index), true),
  ),
  ...WORDS.map(
    ([description, spoken], index): Cutting =>
      (project, { shotId }) =>
        setShot(project, shotId(index), 'Words', { description, spoken }),
  ),
  // The other side of the same moment, in case the reverse plays better first.
  (project, { shotId, idOf }) => {
    const shot = project.shots[shotId(3)];
    if (!shot) throw new Error('The demo has no fourth shot.');
    const cameraId = idOf('camera Over the keeper');
    return addTake(project, shot.id, idOf('take'), { ...showingOf(shot), cameraId }, 'b from the other side');
  },
  (project, { shotId }) => nameTake(project, shotId(3), null, 'a over the courier'),
  (project, { shotId }) => setSpeed(project, shotId(6), 0.8, 'action'),
  (project, { shotId }) =>
    setEntry(project, shotId(7), { kind: 'dissolve', durationFlicks: frame(24), place: 'centred', ease: 1 }),
  (project, { shotId }) =>
    setFadeOut(project, shotId(7), { durationFlicks: frame(36), place: 'before', ease: 0, colour: BLACK }),
  (project, { sequenceId, idOf, sound }) =>
    addSound(project, sequenceId, {
      soundId: idOf('sound'),
      assetId: idOf('asset wind and bell'),
      name: 'wind and bell',
      file: sound,
      startFlicks: 0,
    }),
  (project, { idOf }) => setSound(project, idOf('sound'), 'Fades', { fadeInS: 1.5, fadeOutS: 1.5, gainDb: -6 }),
  (project, { sequenceId, idOf }) =>
    addMarkers(
      project,
      sequenceId,
      BELLS.map((at, i) => ({ id: idOf(`marker ${i}`), atFlicks: frame(at), name: 'bell' })),
    ),
];
