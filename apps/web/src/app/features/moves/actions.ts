import { inject } from '@angular/core';
import type { NamedMove } from '@arvex/core';
import { NAMED_MOVES, reverseMove, RIG_KINDS, spaceMarks, stillMove } from '@arvex/core';
import type { Action, ActionSource } from '../../session';
import { Setting, Workspace } from '../../session';
import { Keys } from './keys';
import { Marks } from './marks';
import type { Asked } from './move-orders';
import { MoveOrders } from './move-orders';
import { Moves } from './moves';
import { Rigs } from './rigs';

/** Other words for named moves. */
const OTHER_WORDS: Partial<Readonly<Record<NamedMove, string>>> = {
  'push-in': 'dolly forward track in',
  'pull-out': 'dolly back track out',
  truck: 'track tracking shot sideways crab slide',
  pedestal: 'ped up down rise lower',
  boom: 'crane jib up down',
  arc: 'half circle round around',
  pan: 'whip swish',
};

/** What is done with moves. */
export function moveActions(): ActionSource {
  const [marks, setting] = [inject(Marks), inject(Setting)];
  const [keys, workspace] = [inject(Keys), inject(Workspace)];
  const shown = () => workspace.shows('graph') || workspace.shows('table');
  const chosen = () => shown() && keys.count() > 0;
  const [moves, orders, rigs] = [inject(Moves), inject(MoveOrders), inject(Rigs)];
  const movesAtAll = () => moves.move() !== undefined;
  const asked: readonly { kind: Asked; name: string; words: string }[] = [
    ...(Object.keys(NAMED_MOVES) as NamedMove[]).map((kind) => {
      return { kind, name: NAMED_MOVES[kind].name, words: `move ${OTHER_WORDS[kind] ?? ''}` };
    }),
    { kind: 'orbit', name: 'Orbit', words: 'move turntable turn round spin circle' },
  ];
  const steps = ['cameras', 'moves'] as const;
  const actions: readonly Action[] = [
    { id: 'mark', name: 'Mark this pose', keys: 'M', steps, run: () => marks.mark() },
    { name: 'Next mark', keys: 'Alt+ArrowRight', steps, run: () => marks.jumpBy(1) },
    { name: 'Mark before', keys: 'Alt+ArrowLeft', steps, run: () => marks.jumpBy(-1) },
    {
      id: 'auto-key',
      name: 'Automatic keying on or off',
      keys: 'A',
      steps,
      run: () => setting.autoKey.update((on) => !on),
    },
    ...asked.map(({ kind, name, words }): Action => ({
      name: `Ask for: ${name}`,
      words,
      run: () => {
        workspace.goTo('moves');
        orders.setKind(kind);
        workspace.reveal('add-move');
      },
    })),
    {
      id: 'copy-move',
      name: 'Copy this move to other cameras',
      words: 'duplicate mirror transfer paste move',
      when: movesAtAll,
      run: () => {
        workspace.goTo('moves');
        orders.copying.set(true);
        workspace.reveal('timing');
      },
    },
    {
      id: 'through-views',
      name: 'Move through views',
      words: 'path waypoints fly through',
      run: () => orders.openViews(),
    },
    ...RIG_KINDS.map((kind): Action => ({
      name: `Put the camera on: ${kind}`,
      words: 'rig track dolly jib tripod turntable',
      when: () => moves.camera() !== undefined,
      run: () => void rigs.put(kind),
    })),
    { name: 'Bake the move to keys', words: 'flatten sticks', when: movesAtAll, run: () => rigs.bake() },
    {
      name: 'Reverse the move',
      words: 'backwards',
      when: movesAtAll,
      run: () => moves.edit((project, cameraId) => reverseMove(project, cameraId)),
    },
    {
      name: 'Space the marks evenly',
      words: 'even distribute',
      when: () => marks.marks().length > 2,
      run: () => moves.edit((project, cameraId) => spaceMarks(project, cameraId, moves.frameFlicks())),
    },
    {
      name: 'Come to rest at the last mark',
      words: 'settle ease slow in out stop soften',
      when: () => marks.marks().length > 1,
      run: () => marks.settleLast(),
    },
    {
      name: 'Take the whole move away',
      words: 'delete clear still',
      when: movesAtAll,
      run: () => moves.begin((project, cameraId, atFlicks) => stillMove(project, cameraId, atFlicks)),
    },
    {
      id: 'play-move',
      name: 'Play this move, round and round',
      words: 'loop preview',
      keys: 'Shift+Space',
      steps,
      run: () => moves.play(),
    },
    { name: 'Choose all keys', keys: 'Ctrl+A', steps, when: shown, run: () => keys.chooseAll() },
    { id: 'copy-keys', name: 'Copy keys', keys: 'Ctrl+C', steps, when: chosen, run: () => keys.copy() },
    {
      id: 'paste-keys',
      name: 'Paste keys at the playhead',
      keys: 'Ctrl+V',
      steps,
      when: () => shown() && keys.hasCopied(),
      run: () => keys.paste(),
    },
    { id: 'delete-keys', name: 'Delete keys', keys: 'Delete', steps, when: chosen, run: () => keys.delete() },
    { name: 'Choose no key', keys: 'Escape', steps, when: chosen, run: () => keys.chosen.set({}) },
  ];
  return () => actions;
}
