import { inject } from '@angular/core';
import type { ChannelValues, Pose, ShotSize } from '@arvex/core';
import { camerasInOrder, keepVerticals as keepVerticalsOf, SHOT_SIZES } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { FreeCamera, Playhead, Setting, Tried, Viewpoint, Workspace } from '../../session';
import { Cameras } from './cameras';
import { ExposureControls } from './exposure-controls';
import { Focus } from './focus';
import { Framing } from './framing';
import { Meter } from './meter';
import { PictureTools } from './picture-tools';
import { Preparation } from './preparation';
import { Steering } from './steering';

const OTHER_SIZE_WORDS: Partial<Readonly<Record<ShotSize, string>>> = {
  'close-up': 'headroom',
  medium: 'headroom two shot over the shoulder',
  wide: 'establishing',
  'very wide': 'establishing',
  'extreme wide': 'establishing',
};

/** What is done with cameras. */
export function cameraActions(): ActionSource {
  const [store, playhead, viewpoint] = [inject(ProjectStore), inject(Playhead), inject(Viewpoint)];
  const [cameras, tools] = [inject(Cameras), inject(PictureTools)];
  const [steering, tried] = [inject(Steering), inject(Tried)];
  const [exposure, meter, focus] = [inject(ExposureControls), inject(Meter), inject(Focus)];
  const [framing, workspace, setting] = [inject(Framing), inject(Workspace), inject(Setting)];
  const preparation = inject(Preparation);
  const [freeCamera, notices] = [inject(FreeCamera), inject(Notices)];
  const goToView = (pose: Pose) => {
    freeCamera.pose.set(pose);
    if (!workspace.shows('free')) workspace.show('free');
  };
  const held = () => viewpoint.state()?.exposure.hold ?? false;
  const setNumbers = (what: string, values: ChannelValues) => {
    const camera = viewpoint.camera();
    if (camera) setting.setChannels(camera.id, what, values);
  };
  const keepVerticals = () => {
    const [camera, state] = [viewpoint.camera(), viewpoint.state()];
    const kept = state && keepVerticalsOf(state);
    if (camera && kept) {
      setting.setChannels(camera.id, 'Keep verticals', { tilt: kept.tiltDeg, shiftY: kept.shiftYMm });
    }
  };
  const steers = (name: string, keys: string, run: () => void): Action => ({
    name: `Steer: ${name}`,
    keys,
    when: viewpoint.steering,
    run,
  });
  const byKeys: readonly Action[] = [
    steers('pan left', 'ArrowLeft', () => steering.turn(-1, 0)),
    steers('pan right', 'ArrowRight', () => steering.turn(1, 0)),
    steers('tilt up', 'ArrowUp', () => steering.turn(0, 1)),
    steers('tilt down', 'ArrowDown', () => steering.turn(0, -1)),
    steers('slide left', 'Shift+ArrowLeft', () => steering.slide(-1, 0)),
    steers('slide right', 'Shift+ArrowRight', () => steering.slide(1, 0)),
    steers('slide up', 'Shift+ArrowUp', () => steering.slide(0, 1)),
    steers('slide down', 'Shift+ArrowDown', () => steering.slide(0, -1)),
    steers('go round to the left', 'Ctrl+ArrowLeft', () => steering.goRound(-1, 0)),
    steers('go round to the right', 'Ctrl+ArrowRight', () => steering.goRound(1, 0)),
    steers('go over', 'Ctrl+ArrowUp', () => steering.goRound(0, -1)),
    steers('go under', 'Ctrl+ArrowDown', () => steering.goRound(0, 1)),
    steers('come nearer', 'PageUp', () => steering.nearer(1)),
    steers('go away', 'PageDown', () => steering.nearer(-1)),
  ];
  const [here, onCameras, building] = [['cameras'], ['cameras', 'moves'], ['set', 'cameras', 'moves']] as const;
  const actions: readonly Action[] = [
    ...byKeys,
    {
      id: 'prepare',
      name: 'Prepare to play, or stop preparing',
      words: 'cache frames ready smooth true rate background',
      keys: 'Alt+P',
      run: () => (preparation.preparing() ? preparation.cancel() : preparation.prepare()),
    },
    {
      name: 'Let go of the camera that is steered',
      keys: 'Escape',
      when: viewpoint.steering,
      run: () => viewpoint.steering.set(false),
    },
    {
      name: 'Point at nothing',
      keys: 'Escape',
      when: () => tools.pointing() !== undefined,
      run: () => tools.pointed(undefined),
    },
    { name: 'Let go of the pose that is tried', keys: 'Escape', run: () => tried.letPoseGo() },
    {
      name: 'Make camera from this view',
      words: 'new add create camera',
      keys: 'N',
      steps: building,
      run: () => cameras.fromView(),
    },
    { name: 'Put the camera where the free view is', steps: onCameras, run: () => cameras.putHere() },
    {
      id: 'keep-view',
      name: 'Keep this free view',
      words: 'save bookmark remember view',
      run: () => {
        const kept = freeCamera.keep();
        if (kept)
          notices.done(`Kept as ${kept.name}: “Free view: ${kept.name}” goes back to it, and moves go through it.`);
      },
    },
    { name: 'Free view from the camera', steps: building, run: () => cameras.freeViewToCamera() },
    { id: 'duplicate-camera', name: 'Duplicate this camera', steps: here, run: () => cameras.duplicate() },
    { id: 'delete-camera', name: 'Delete this camera', steps: here, run: () => cameras.delete() },
    {
      name: 'Disable this camera, or enable it',
      words: 'off on mute out of the work',
      steps: here,
      run: () => cameras.disable(),
    },
    { id: 'match', name: 'Match other cameras to this one', steps: here, run: () => cameras.openMatch() },
    {
      id: 'steer',
      name: 'Steer this camera in the picture',
      keys: 'S',
      run: () => viewpoint.steering.update((on) => !on),
    },
    { id: 'sharp', name: 'Mark what is sharp', keys: 'B', run: () => tools.marksSharp.update((on) => !on) },
    { name: 'False colour by stops', words: 'exposure clipping', run: () => tools.displayKind.set('stops') },
    { name: 'Zebra where it clips', run: () => tools.displayKind.set('zebra') },
    { name: 'The picture as exposed', run: () => tools.displayKind.set('picture') },
    {
      name: 'Expose as metered',
      words: 'automatic exposure meter ev correct',
      steps: onCameras,
      when: () => meter.over() !== undefined,
      run: () => exposure.byStops('Expose as metered', meter.over() ?? 0),
    },
    {
      name: 'Hold EV, or let it go',
      words: 'exposure lock absorb',
      run: () => exposure.setHold(held() ? 'EV is free' : 'Hold EV', { hold: !held() }),
    },
    { name: 'Focus follows whom the camera sees', words: 'track subject pull', run: () => focus.followSeen() },
    { name: 'Focus by hand', words: 'manual', run: () => focus.byHand() },
    {
      name: 'Focus at the hyperfocal distance',
      words: 'deep focus everything sharp',
      run: () => focus.at(viewpoint.state()?.focus.hyperfocalM ?? 5),
    },
    {
      name: 'Level the horizon',
      words: 'roll dutch straight upright',
      run: () => setNumbers('Level the horizon', { roll: 0 }),
    },
    {
      name: 'Keep verticals vertical',
      words: 'shift level tilt perspective architecture keystone convergence',
      run: () => keepVerticals(),
    },
    { name: 'Compare cameras', words: 'all side by side wall', run: () => workspace.show('cameras') },
    ...SHOT_SIZES.flatMap((size): Action[] => [
      {
        name: `Frame: ${size}, the camera goes`,
        words: `shot size compose ${OTHER_SIZE_WORDS[size] ?? ''}`,
        run: () => framing.sizeTo(size, 'camera'),
      },
      {
        name: `Frame: ${size}, the lens changes`,
        words: `shot size compose ${OTHER_SIZE_WORDS[size] ?? ''}`,
        run: () => framing.sizeTo(size, 'lens'),
      },
    ]),
    { name: 'Hold two things sharp', steps: onCameras, run: () => tools.use('hold') },
    { name: 'Meter a spot', steps: here, run: () => tools.use('meter') },
  ];
  return () => {
    const project = store.project();
    const through = (project ? camerasInOrder(project) : []).map(({ id, number, name }): Action => {
      return { name: `Look through ${number} ${name}`, run: () => playhead.lookThrough(id) };
    });
    const kept = freeCamera.kept().flatMap(({ id, name, pose }): Action[] => [
      { name: `Free view: ${name}`, words: 'kept saved go to', run: () => goToView(pose) },
      { name: `Forget the free view ${name}`, words: 'kept saved delete', run: () => freeCamera.forget(id) },
    ]);
    return [...actions, ...through, ...kept];
  };
}
