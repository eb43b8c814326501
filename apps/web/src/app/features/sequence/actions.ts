import { inject } from '@angular/core';
import type { Project } from '@arvex/core';
import {
  addShot,
  camerasInOrder,
  closeGap,
  composed,
  conformCut,
  deleteShots,
  flicksAtFrame,
  moveOf,
  putMoveUnder,
  shotOfCamera,
  soundEnd,
  splitShot,
  splitSound,
  trimEnd,
  trimStart,
} from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { OpenSequence, Playhead, Viewpoint } from '../../session';
import type { Pulled } from './cut-drag';
import { CutDrag } from './cut-drag';
import { CutEdits } from './cut-edits';
import { LaneLook } from './lane-look';
import { ShotClipboard } from './shot-clipboard';
import { ShotSelection } from './shot-selection';
import { SoundTracks } from './sound/sound-tracks';

/** Frame by frame, what is pulled in the lanes by hand. */
const PULLS: readonly { readonly pulled: Pulled; readonly what: string; readonly keys: string; readonly sign?: -1 }[] =
  [
    { pulled: 'joint', what: 'Roll the joint before the shot', keys: 'Alt+Shift+' },
    { pulled: 'start', what: 'Trim the beginning of the shot', keys: 'Ctrl+Shift+' },
    { pulled: 'end', what: 'Trim the end of the shot', keys: 'Ctrl+' },
    { pulled: 'slips', what: 'Slip what the shots show', keys: 'Ctrl+Alt+', sign: -1 },
  ];
const pulls = PULLS.flatMap(({ pulled, what, keys, sign = 1 }) => [
  { pulled, name: `${what} a frame earlier`, keys: `${keys}ArrowLeft`, by: -sign },
  { pulled, name: `${what} a frame later`, keys: `${keys}ArrowRight`, by: sign },
]);

/** What is done with the shots of a cut. */
export function sequenceActions(): ActionSource {
  const [store, open, playhead, viewpoint] = [
    inject(ProjectStore),
    inject(OpenSequence),
    inject(Playhead),
    inject(Viewpoint),
  ];
  const [edits, selection, clipboard] = [inject(CutEdits), inject(ShotSelection), inject(ShotClipboard)];
  const [drag, tracks, notices] = [inject(CutDrag), inject(SoundTracks), inject(Notices)];
  const lanes = inject(LaneLook);
  const steps = ['sequence'] as const;
  const has = () => selection.acted().length > 0;
  const frame = () => playhead.seen()?.frame ?? 0;
  const onFirst = (make: (project: Project, shotId: string) => ReturnType<typeof closeGap> | undefined) => {
    const [id] = selection.acted();
    if (id !== undefined) edits.run((project) => make(project, id));
  };
  const goToJoint = (by: 1 | -1) => {
    const starts = open.cut().shots.map(({ startFrame }) => startFrame);
    const next = by > 0 ? starts.find((start) => start > frame()) : starts.findLast((start) => start < frame());
    if (next !== undefined) playhead.goTo(next);
  };
  const add = () => {
    const [project, camera] = [store.project(), viewpoint.camera() ?? camerasInOrder(store.project() as Project)[0]];
    if (!project || !camera) return;
    const after = selection.current();
    const before = playhead.mode() === 'cut' ? after : undefined;
    const id = crypto.randomUUID();
    const shot = shotOfCamera(project, camera.id, id, before, playhead.seen()?.sceneFlicks ?? 0);
    if (!edits.run((now, sequenceId) => addShot(now, sequenceId, { ...shot, afterId: after?.shot.id }))) return;
    playhead.toMode('cut');
    const added = open.cut().shots.find((one) => one.shot.id === id);
    if (added) playhead.goTo(added.startFrame);
    selection.choose(id);
  };
  const actions: readonly Action[] = [
    {
      id: 'add-shot',
      name: 'Add a shot of the camera looked through',
      words: 'new make insert',
      steps,
      when: () => Object.keys(store.project()?.cameras ?? {}).length > 0,
      run: add,
    },
    {
      id: 'divide',
      name: 'Divide the shot here',
      words: 'split blade razor cut',
      keys: 'D',
      steps,
      when: has,
      run: () => void edits.run((project, id) => splitShot(project, id, frame(), crypto.randomUUID())),
    },
    {
      id: 'delete-shots',
      name: 'Delete shots, close the gap',
      keys: 'Delete',
      steps,
      when: has,
      run: () => void edits.run((project) => deleteShots(project, selection.acted(), { close: true })),
    },
    {
      id: 'lift-shots',
      name: 'Delete shots, leave the gap',
      words: 'lift',
      keys: 'Shift+Delete',
      steps,
      when: has,
      run: () => void edits.run((project) => deleteShots(project, selection.acted(), { close: false })),
    },
    {
      name: 'Close the gap before the shot',
      words: 'remove',
      when: () => (selection.current()?.gapFrames ?? 0) > 0,
      run: () => onFirst(closeGap),
    },
    {
      id: 'duplicate-shots',
      name: 'Duplicate shots',
      keys: 'Ctrl+D',
      steps,
      when: has,
      run: () => clipboard.duplicate(),
    },
    { name: 'Copy shots', keys: 'Ctrl+C', steps, when: has, run: () => clipboard.copy() },
    { name: 'Cut shots out', keys: 'Ctrl+X', steps, when: has, run: () => clipboard.cut() },
    {
      name: 'Put shots in after this one',
      words: 'paste',
      keys: 'Ctrl+V',
      steps,
      when: () => clipboard.copied().length > 0,
      run: () => clipboard.paste(),
    },
    { name: 'Choose all shots', keys: 'Ctrl+A', steps, when: has, run: () => selection.chooseAll() },
    {
      name: 'Choose no shot',
      keys: 'Escape',
      steps,
      when: () => selection.ids().length > 0,
      run: () => selection.clear(),
    },
    {
      id: 'show-shots',
      name: 'Show the shot as wide as the lanes',
      words: 'zoom fit larger',
      keys: 'Z',
      steps,
      when: has,
      run: () => lanes.show('shots'),
    },
    {
      id: 'show-cut',
      name: 'Show the whole cut in the lanes',
      words: 'zoom fit all',
      keys: 'Shift+Z',
      steps,
      when: has,
      run: () => lanes.show('cut'),
    },
    { name: 'Next joint', words: 'cut', keys: 'Alt+ArrowRight', steps, when: has, run: () => goToJoint(1) },
    { name: 'Joint before', words: 'cut', keys: 'Alt+ArrowLeft', steps, when: has, run: () => goToJoint(-1) },
    {
      name: 'The shot begins here',
      words: 'trim head start',
      keys: 'Shift+I',
      steps,
      when: has,
      run: () => trimHere('start'),
    },
    {
      name: 'The shot ends here',
      words: 'trim tail end',
      keys: 'Shift+O',
      steps,
      when: has,
      run: () => trimHere('end'),
    },
    {
      name: 'Divide everything here: the shot and all sound',
      words: 'blade all lanes split',
      keys: 'Shift+D',
      steps,
      when: has,
      run: () => divideAll(),
    },
    {
      name: 'Make one camera of the whole cut',
      words: 'conform conformed export bake',
      when: () => open.cut().shots.length > 0,
      run: () => conform(),
    },
    ...pulls.map(({ pulled, name, keys, by }): Action => ({
      name,
      words: 'trim roll slip nudge frame',
      keys,
      steps,
      when: has,
      run: () => drag.by(pulled, selection.acted().slice(0, pulled === 'slips' ? undefined : 1), by),
    })),
    {
      id: 'ripple',
      name: 'Trimming: the rest follows, or stays',
      words: 'ripple',
      keys: 'E',
      steps,
      run: () => drag.ripple.update((on) => !on),
    },
    {
      id: 'sound-along',
      name: 'Trimming: sound and markers come along, or stay',
      words: 'ripple sync dialogue',
      steps,
      run: () => edits.soundAlong.update((on) => !on),
    },
    {
      id: 'action-along',
      name: 'Trimming: shots that go on with the action go along, or show what they showed',
      words: 'chain continue continuous slip',
      steps,
      run: () => edits.actionAlong.update((on) => !on),
    },
  ];
  /** Moves an end of the shot at the playhead to the playhead: its frame is the first, or the last. */
  function trimHere(end: 'start' | 'end'): void {
    const placed = selection.current();
    if (!placed) return;
    const into = frame() - placed.startFrame;
    const how = { ripple: drag.ripple() };
    edits.run((project) =>
      end === 'start'
        ? trimStart(project, placed.shot.id, into, how)
        : trimEnd(project, placed.shot.id, into + 1 - placed.frameCount, how),
    );
    if (end === 'start' && how.ripple) playhead.goTo(placed.startFrame);
  }
  /** One camera that steps at each joint; what it cannot carry is said. */
  function conform(): void {
    let left: readonly string[] = [];
    const made = edits.run((project, id) => {
      const conformed = conformCut(project, id, crypto.randomUUID());
      left = conformed.leftOut;
      return conformed.edit;
    });
    const more = left.length > 3 ? ` And ${left.length - 3} more.` : '';
    if (made)
      notices.done(
        left.length === 0 ? 'One camera has the whole cut, frame by frame.' : `${left.slice(0, 3).join(' ')}${more}`,
      );
  }
  /** The shot at the playhead, and every piece of sound that is heard there. */
  function divideAll(): void {
    const rate = store.project()?.head.rate;
    if (!rate) return;
    const [at, atFlicks] = [frame(), flicksAtFrame(frame(), rate)];
    const heard = tracks.pieces().filter((one) => one.startFlicks < atFlicks && soundEnd(one) > atFlicks);
    edits.run((project, id) =>
      composed(project, 'Divide everything', [
        (now) => splitShot(now, id, at, crypto.randomUUID()),
        ...heard.map((one) => (now: Project) => splitSound(now, one.id, atFlicks, crypto.randomUUID())),
      ]),
    );
  }
  return () => {
    const project = store.project();
    const cameras = project ? camerasInOrder(project) : [];
    const under = cameras.map((camera): Action => ({
      name: `Put the move of ${camera.number} ${camera.name} under this shot`,
      words: 'cover angle bring action',
      steps,
      when: () => has() && project !== undefined && moveOf(project, camera.id) !== undefined,
      run: () => onFirst((now, shotId) => putMoveUnder(now, shotId, camera.id)),
    }));
    const shots = open.cut().shots.map(({ shot, startFrame }): Action => ({
      name: `Go to ${shot.name}`,
      words: `shot ${shot.scene} ${shot.description} ${project?.cameras[shot.cameraId ?? '']?.name ?? ''}`,
      run: () => {
        playhead.toMode('cut');
        playhead.goTo(startFrame);
        selection.choose(shot.id);
      },
    }));
    return [...actions, ...under, ...shots];
  };
}
