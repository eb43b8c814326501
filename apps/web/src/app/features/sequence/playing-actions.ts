import { inject } from '@angular/core';
import { camerasInOrder } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { OpenSequence, Playhead } from '../../session';
import { LiveSwitch } from './live-switch';
import { MarkerTaps } from './marker-taps';
import { ShotSelection } from './shot-selection';
import { Show } from './show';

/** Cameras that have a key to cut to them. */
const KEYED_CAMERAS = 9;

/** What is done while the cut plays, or is shown to somebody; standing still, the same at the playhead. */
export function playingActions(): ActionSource {
  const [store, playhead, selection] = [inject(ProjectStore), inject(Playhead), inject(ShotSelection)];
  const open = inject(OpenSequence);
  const [live, taps, show] = [inject(LiveSwitch), inject(MarkerTaps), inject(Show)];
  const steps = ['sequence'] as const;
  const has = () => selection.acted().length > 0;
  const actions: readonly Action[] = [
    {
      id: 'tap-marker',
      name: 'Set a marker here',
      words: 'tap flag beat',
      keys: 'M',
      steps,
      when: has,
      run: () => taps.tap(),
    },
    {
      id: 'show',
      name: 'Show it: the picture alone',
      words: 'present full screen review walk',
      keys: 'Alt+S',
      run: () => show.begin(),
    },
    { name: 'Start the cut, or stop it', keys: 'Space', when: show.on, takesOver: true, run: () => show.startOrStop() },
    { name: 'End showing', keys: 'Escape', when: show.on, takesOver: true, run: () => show.end() },
    {
      name: 'Take back the last marker tapped while it plays',
      keys: 'Ctrl+Z',
      when: () => taps.pending(),
      takesOver: true,
      run: () => taps.takeBack(),
    },
    {
      name: 'Take back the last camera switched while it plays',
      keys: 'Ctrl+Z',
      when: () => live.pending(),
      takesOver: true,
      run: () => live.takeBack(),
    },
    {
      id: 'shot-alone',
      name: 'Play this shot alone, or the whole cut',
      keys: 'Q',
      run: () => (playhead.plays() === 'shot' ? playhead.toMode('cut') : playhead.toShot()),
    },
  ];
  return () => {
    const project = store.project();
    const cameras = project ? camerasInOrder(project) : [];
    const cuts = cameras.map((camera): Action => ({
      name: `Cut to ${camera.number} ${camera.name} here`,
      words: 'switch camera live',
      ...(camera.number <= KEYED_CAMERAS && { keys: `Shift+${camera.number}` }),
      steps,
      when: () => playhead.mode() === 'cut' || open.cut().shots.length === 0,
      run: () => live.to(camera.id),
    }));
    return [...actions, ...cuts];
  };
}
