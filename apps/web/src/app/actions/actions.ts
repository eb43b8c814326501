import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { PieceOffer, Step } from '@arvex/core';
import { camerasInOrder, framesPerSecond, PIECE_OFFERS, STEPS } from '@arvex/core';
import { CameraMaking } from '../features/cameras';
import { Marking } from '../features/moves';
import { Framing } from '../features/set';
import { PictureTools } from '../features/cameras';
import { PieceMaking } from '../features/set';
import { PlanTools } from '../features/set';
import { Playhead } from '../session';
import { ProjectStore } from '../data';
import { Viewing } from '../session';
import { Walking } from '../features/set';

/** Something that can be done, by name and perhaps by a key. */
export interface Action {
  readonly name: string;
  /** Keys as they are shown; `Ctrl` is also the command key of other keyboards. */
  readonly keys?: string;
  /** Steps in which its key works; all when not given. */
  readonly steps?: readonly Step[];
  readonly run: () => void;
}

const STEP_NAMES: Readonly<Record<Step, string>> = {
  set: 'Set',
  cameras: 'Cameras',
  moves: 'Moves',
  sequence: 'Sequence',
  review: 'Review',
};

/** Every action with its key: the one list that keys, tooltips, the command search and the key help come from. */
@Injectable({ providedIn: 'root' })
export class Actions {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewing = inject(Viewing);
  private readonly marking = inject(Marking);
  private readonly making = inject(CameraMaking);
  private readonly pieces = inject(PieceMaking);
  private readonly planTools = inject(PlanTools);
  private readonly walking = inject(Walking);
  private readonly framing = inject(Framing);
  private readonly tools = inject(PictureTools);
  private readonly dialog = inject(MatDialog);

  private readonly lasting: readonly Action[] = [
    { name: 'Play or stop', keys: 'Space', run: () => this.playhead.toggle() },
    { name: 'Shuttle backward', keys: 'J', run: () => this.playhead.shuttle(-1) },
    { name: 'Stop', keys: 'K', run: () => this.playhead.stop() },
    { name: 'Shuttle forward', keys: 'L', run: () => this.playhead.shuttle(1) },
    { name: 'Step a frame back', keys: 'ArrowLeft', run: () => this.playhead.step(-1) },
    { name: 'Step a frame forward', keys: 'ArrowRight', run: () => this.playhead.step(1) },
    { name: 'Step a second back', keys: 'Shift+ArrowLeft', run: () => this.stepSecond(-1) },
    { name: 'Step a second forward', keys: 'Shift+ArrowRight', run: () => this.stepSecond(1) },
    { name: 'First frame', keys: 'Home', run: () => this.playhead.goTo(0) },
    { name: 'Last frame', keys: 'End', run: () => this.playhead.goTo(this.playhead.length() - 1) },
    { name: 'Range begins here', keys: 'I', run: () => this.playhead.setRangeEnd('first') },
    { name: 'Range ends here', keys: 'O', run: () => this.playhead.setRangeEnd('last') },
    { name: 'Play the whole again, without a range', keys: 'Alt+O', run: () => this.playhead.range.set(undefined) },
    { name: 'Play in a loop, or once', keys: 'R', run: () => this.playhead.loop.update((on) => !on) },
    { name: 'Pace: true, half, quarter', keys: 'H', run: () => this.playhead.changePace() },
    { name: 'True rate, or every frame', keys: 'Y', run: () => this.playhead.changeEveryFrame() },
    { name: 'Change between the cut and one camera', keys: 'C', run: () => this.changeMode() },
    { name: 'Mark this pose', keys: 'M', steps: ['cameras', 'moves'], run: () => this.marking.mark() },
    { name: 'Next mark', keys: 'Alt+ArrowRight', steps: ['cameras', 'moves'], run: () => this.marking.jumpBy(1) },
    { name: 'Mark before', keys: 'Alt+ArrowLeft', steps: ['cameras', 'moves'], run: () => this.marking.jumpBy(-1) },
    { name: 'Let go of what is in hand, or of the tried pose', keys: 'Escape', run: () => this.letGo() },
    { name: 'Walk through the set', keys: 'W', run: () => this.walk() },
    { name: 'Free view to what is chosen', keys: 'T', steps: ['set'], run: () => this.framing.toSelection() },
    { name: 'Duplicate what is chosen', keys: 'Ctrl+D', steps: ['set'], run: () => this.pieces.duplicate() },
    { name: 'Group what is chosen', keys: 'Ctrl+G', steps: ['set'], run: () => this.pieces.group() },
    { name: 'Drop to ground', keys: 'G', steps: ['set'], run: () => void this.pieces.dropToGround() },
    { name: 'Take what is chosen out of the set', keys: 'Delete', steps: ['set'], run: () => this.pieces.delete() },
    {
      name: 'Make camera from this view',
      keys: 'N',
      steps: ['set', 'cameras', 'moves'],
      run: () => this.making.fromFreeView(),
    },
    { name: 'Put the camera where the free view is', steps: ['cameras', 'moves'], run: () => this.making.putHere() },
    {
      name: 'Free view from the camera',
      steps: ['set', 'cameras', 'moves'],
      run: () => this.making.freeViewToCamera(),
    },
    { name: 'Duplicate this camera', steps: ['cameras'], run: () => this.making.duplicate() },
    { name: 'Delete this camera', steps: ['cameras'], run: () => this.making.delete() },
    { name: 'Steer this camera in the picture', keys: 'S', run: () => this.viewing.steering.update((on) => !on) },
    { name: 'Graph of the curves', keys: 'Shift+G', run: () => this.showCurves('graph') },
    { name: 'Time table of the keys', keys: 'Shift+T', run: () => this.showCurves('table') },
    {
      name: 'Automatic keying on or off',
      keys: 'A',
      steps: ['cameras', 'moves'],
      run: () => this.viewing.autoKey.update((on) => !on),
    },
    { name: 'Plan', keys: 'P', run: () => this.viewing.show('plan') },
    { name: 'All cameras side by side', keys: 'Alt+C', run: () => this.viewing.show('cameras') },
    { name: 'Mark what is sharp', keys: 'B', run: () => this.tools.marksSharp.update((on) => !on) },
    { name: 'False colour by stops', run: () => this.tools.displayKind.set('stops') },
    { name: 'Zebra where it clips', run: () => this.tools.displayKind.set('zebra') },
    { name: 'The picture as exposed', run: () => this.tools.displayKind.set('picture') },
    { name: 'Hold two things sharp', steps: ['cameras', 'moves'], run: () => this.tools.use('hold') },
    { name: 'Meter a spot', steps: ['cameras'], run: () => this.tools.use('meter') },
    { name: 'Match other cameras to this one', steps: ['cameras'], run: () => this.making.openMatch() },
    { name: 'Free view', keys: 'F', run: () => this.viewing.show('free') },
    { name: 'Change the two views round', keys: 'V', run: () => this.viewing.swapViews() },
    { name: 'Undo', keys: 'Ctrl+Z', run: () => this.store.undo() },
    { name: 'Redo', keys: 'Ctrl+Shift+Z', run: () => this.store.redo() },
    { name: 'Find an action', keys: 'Ctrl+K', run: () => this.search() },
    { name: 'Keys of this step', keys: '?', run: () => this.keys() },
    {
      name: 'Light or dark theme',
      run: () => this.viewing.theme.update((theme) => (theme === 'dark' ? 'light' : 'dark')),
    },
    { name: 'Surround of the picture: black', run: () => this.viewing.surround.set(0) },
    { name: 'Surround of the picture: dark grey', run: () => this.viewing.surround.set(43) },
    { name: 'Surround of the picture: mid grey', run: () => this.viewing.surround.set(118) },
    ...STEPS.map((step, i) => ({
      name: `Go to ${STEP_NAMES[step]}`,
      keys: String(i + 1),
      run: () => this.viewing.step.set(step),
    })),
  ];

  /** All actions now: the lasting ones, and one for each camera. */
  all(): readonly Action[] {
    const project = this.store.project();
    const cameras = project ? camerasInOrder(project) : [];
    return [
      ...this.lasting,
      ...PIECE_OFFERS.map((offer) => ({ name: `Put in the set: ${offer.name}`, run: () => this.take(offer) })),
      ...cameras.map(({ id, number, name }) => ({
        name: `Look through ${number} ${name}`,
        run: () => this.playhead.lookThrough(id),
      })),
    ];
  }

  private showCurves(kind: 'graph' | 'table'): void {
    this.viewing.step.set('moves');
    this.viewing.show(kind);
  }

  private take(offer: PieceOffer): void {
    this.viewing.step.set('set');
    this.pieces.putting.set(offer);
  }

  /** Runs what a key stands for in the present step. @returns whether it stands for anything. */
  press(event: KeyboardEvent): boolean {
    const keys = keysOf(event);
    const action = this.here().find((one) => one.keys === keys);
    action?.run();
    return action !== undefined;
  }

  /** Actions that have a key in the present step. */
  private here(): readonly Action[] {
    const step = this.viewing.step();
    return this.lasting.filter(({ keys, steps }) => keys !== undefined && (!steps || steps.includes(step)));
  }

  /** Opens the command search. */
  search(): void {
    void this.openSearch();
  }

  /** Opens the key help. */
  keys(): void {
    void this.openKeys();
  }

  private stepSecond(direction: 1 | -1): void {
    const rate = this.store.project()?.head.rate;
    if (rate) this.playhead.step(direction * Math.round(framesPerSecond(rate)));
  }

  private changeMode(): void {
    this.playhead.toMode(this.playhead.mode() === 'cut' ? 'camera' : 'cut');
  }

  private walk(): void {
    if (!this.viewing.shows('free')) this.viewing.show('free');
    this.walking.on.update((on) => !on);
  }

  private letGo(): void {
    if (this.walking.on()) this.walking.on.set(false);
    else if (this.pieces.putting()) this.pieces.putting.set(undefined);
    else if (this.pieces.attaching()) this.pieces.attaching.set(false);
    else if (this.planTools.tool() !== 'none') this.planTools.leave();
    else if (this.viewing.steering()) this.viewing.steering.set(false);
    else this.viewing.trial.set(undefined);
  }

  private async openSearch(): Promise<void> {
    const { CommandSearch } = await import('./command-search');
    this.dialog.open(CommandSearch, { width: '520px', position: { top: '60px' }, data: this.all() });
  }

  private async openKeys(): Promise<void> {
    const { KeyHelp } = await import('./key-help');
    this.dialog.open(KeyHelp, {
      width: '680px',
      data: { step: STEP_NAMES[this.viewing.step()], actions: this.here() },
    });
  }
}

/** A pressed key as the list writes it. */
function keysOf({ key, ctrlKey, metaKey, shiftKey, altKey }: KeyboardEvent): string {
  const name = key === ' ' ? 'Space' : key.length === 1 ? key.toUpperCase() : key;
  // A sign like ? already says that Shift is held.
  const shifted = shiftKey && (key.length > 1 || /[a-z]/i.test(key));
  return [(ctrlKey || metaKey) && 'Ctrl', altKey && 'Alt', shifted && 'Shift', name].filter(Boolean).join('+');
}

/** Keys as people read them. */
export function keysText(keys: string): string {
  return keys.replace('ArrowLeft', '←').replace('ArrowRight', '→').replace('Escape', 'Esc').replaceAll('+', ' ');
}
