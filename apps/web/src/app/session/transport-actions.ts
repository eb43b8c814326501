import { inject } from '@angular/core';
import { framesPerSecond } from '@arvex/core';
import { ProjectStore, UndoList } from '../data';
import type { Action, ActionSource } from './actions';
import { Playback } from './playback';
import { Playhead } from './playhead';

/** Playing and going about in time; undo and redo. */
export function transportActions(): ActionSource {
  const [store, undoList] = [inject(ProjectStore), inject(UndoList)];
  const [playhead, playback] = [inject(Playhead), inject(Playback)];
  const stepSecond = (direction: 1 | -1) => {
    const rate = store.project()?.head.rate;
    if (rate) playhead.step(direction * Math.round(framesPerSecond(rate)));
  };
  const actions: readonly Action[] = [
    { id: 'play', name: 'Play or stop', keys: 'Space', run: () => playback.toggle() },
    { name: 'Shuttle backward', keys: 'J', run: () => playback.shuttle(-1) },
    { name: 'Stop', keys: 'K', run: () => playhead.stop() },
    { name: 'Shuttle forward', keys: 'L', run: () => playback.shuttle(1) },
    { id: 'frame-back', name: 'Step a frame back', keys: 'ArrowLeft', run: () => playhead.step(-1) },
    { id: 'frame-on', name: 'Step a frame forward', keys: 'ArrowRight', run: () => playhead.step(1) },
    { name: 'Step a second back', keys: 'Shift+ArrowLeft', run: () => stepSecond(-1) },
    { name: 'Step a second forward', keys: 'Shift+ArrowRight', run: () => stepSecond(1) },
    { id: 'first-frame', name: 'First frame', keys: 'Home', run: () => playhead.goTo(0) },
    { id: 'last-frame', name: 'Last frame', keys: 'End', run: () => playhead.goTo(playhead.length() - 1) },
    {
      id: 'go-to',
      name: 'Go to a frame or timecode',
      words: 'goto jump type number',
      keys: 'Alt+G',
      run: () => playhead.typing.set(true),
    },
    { name: 'Range begins here', keys: 'I', run: () => playhead.setRangeEnd('first') },
    { name: 'Range ends here', keys: 'O', run: () => playhead.setRangeEnd('last') },
    { name: 'Play the whole again, without a range', keys: 'Alt+O', run: () => playhead.range.set(undefined) },
    { id: 'loop', name: 'Play in a loop, or once', keys: 'R', run: () => playback.loop.update((on) => !on) },
    { id: 'pace', name: 'Pace: true, half, quarter', keys: 'H', run: () => playback.changePace() },
    { id: 'every-frame', name: 'True rate, or every frame', keys: 'Y', run: () => playback.changeEveryFrame() },
    {
      name: 'Change between the cut and one camera',
      keys: 'C',
      run: () => playhead.toMode(playhead.mode() === 'cut' ? 'camera' : 'cut'),
    },
    { id: 'undo', name: 'Undo', keys: 'Ctrl+Z', run: () => undoList.undo() },
    { id: 'redo', name: 'Redo', keys: 'Ctrl+Shift+Z', run: () => undoList.redo() },
  ];
  return () => actions;
}
