import { inject } from '@angular/core';
import type { DisplayUnit, PieceOffer } from '@arvex/core';
import { DISPLAY_UNITS, PIECE_OFFERS, setHead } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { Action, ActionSource } from '../../session';
import { Workspace } from '../../session';
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

const LET_GO = 'Let go of what is in hand';

/** What is done in the set. */
export function setActions(): ActionSource {
  const [workspace, pieces, walk] = [inject(Workspace), inject(SetPieces), inject(Walk)];
  const [frame, planTools] = [inject(FrameSelection), inject(PlanTools)];
  const store = inject(ProjectStore);
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
