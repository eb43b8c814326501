import { inject } from '@angular/core';
import type { DisplayUnit, PieceOffer, Project } from '@arvex/core';
import { composed, DISPLAY_UNITS, flicksAtFrame, PIECE_OFFERS, setHead, turnPlacement } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { Playhead, Selection, Workspace } from '../../session';
import { FrameSelection } from './frame-selection';
import { SetPieces } from './pieces';
import { PlanTools } from './plan-tools';
import { Walk } from './walk';

const UNIT_NAMES: Readonly<Record<DisplayUnit, string>> = {
  m: 'metres',
  cm: 'centimetres',
  mm: 'millimetres',
  ft: 'feet and inches',
  in: 'inches',
};

/** How long a turn takes that nobody has given a length, seconds. */
export const TURN_S = 5;

const LET_GO = 'Let go of what is in hand';

/** What is done in the set. */
export function setActions(): ActionSource {
  const [workspace, pieces, walk] = [inject(Workspace), inject(SetPieces), inject(Walk)];
  const [frame, planTools] = [inject(FrameSelection), inject(PlanTools)];
  const [store, playhead] = [inject(ProjectStore), inject(Playhead)];
  const selection = inject(Selection);
  const steps = ['set'] as const;
  const walkAbout = () => {
    if (!workspace.shows('free')) workspace.show('free');
    walk.on.update((on) => !on);
  };
  const take = (offer: PieceOffer) => {
    workspace.goTo('set');
    pieces.putting.set(offer);
  };
  const letGo = (what: string, when: () => boolean, run: () => void): Action => {
    return { name: `${LET_GO}: ${what}`, keys: 'Escape', when, run };
  };
  const setUnit = (displayUnit: DisplayUnit) => {
    const project = store.project();
    if (project) store.commit(setHead(project, `Lengths in ${UNIT_NAMES[displayUnit]}`, { displayUnit }));
  };
  const turn = () => {
    const rate = store.project()?.head.rate;
    if (!rate) return;
    const fromFlicks = playhead.seen()?.sceneFlicks ?? 0;
    const frames = Math.round((TURN_S * rate.frames) / rate.seconds);
    const by = { fromFlicks, lengthFlicks: flicksAtFrame(frames, rate), degrees: 360 };
    const ids = selection.ids();
    pieces.edit((project) =>
      composed(
        project,
        ids.length === 1 ? 'Turn once round' : `Turn ${ids.length} things once round`,
        ids.map((id) => (now: Project) => turnPlacement(now, id, by)),
      ),
    );
  };
  const actions: readonly Action[] = [
    letGo('stop walking', walk.on, () => walk.on.set(false)),
    letGo(
      'put nothing more',
      () => pieces.putting() !== undefined,
      () => pieces.putting.set(undefined),
    ),
    letGo('attach nothing', pieces.attaching, () => pieces.attaching.set(false)),
    letGo(
      'leave the tool of the plan',
      () => planTools.tool() !== 'none',
      () => planTools.leave(),
    ),
    {
      name: `Turn the chosen things once round, evenly, in ${TURN_S} seconds from here`,
      words: 'turntable spin rotate 360 product revolve',
      when: () => selection.ids().length > 0,
      run: turn,
    },
    {
      name: 'Put what is in hand in front of you',
      keys: 'Enter',
      when: () => pieces.putting() !== undefined,
      run: () => void pieces.putAhead(),
    },
    { id: 'walk', name: 'Walk through the set', keys: 'W', run: walkAbout },
    { id: 'view-chosen', name: 'Free view to what is chosen', keys: 'T', steps, run: () => frame.toSelection() },
    { id: 'duplicate', name: 'Duplicate what is chosen', keys: 'Ctrl+D', steps, run: () => pieces.duplicate() },
    { id: 'group', name: 'Group what is chosen', keys: 'Ctrl+G', steps, run: () => pieces.group() },
    { id: 'drop-to-ground', name: 'Drop to ground', keys: 'G', steps, run: () => void pieces.dropToGround() },
    { id: 'take-out', name: 'Take what is chosen out of the set', keys: 'Delete', steps, run: () => pieces.delete() },
    ...DISPLAY_UNITS.map((unit): Action => ({
      name: `Show lengths in ${UNIT_NAMES[unit]}`,
      words: 'units imperial metric scale',
      run: () => setUnit(unit),
    })),
    ...PIECE_OFFERS.map((offer): Action => ({ name: `Put in the set: ${offer.name}`, run: () => take(offer) })),
  ];
  return () => actions;
}
