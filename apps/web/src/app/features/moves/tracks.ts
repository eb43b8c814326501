import { computed, inject, Injectable, signal } from '@angular/core';
import type { AfterLast, Channel, ChannelFace, Curve, NamedChannel, Placement } from '@arvex/core';
import {
  channelFace,
  CHANNELS,
  lightChannels,
  LOOK_CHANNELS,
  markChannels,
  PLACEMENT_CHANNELS,
  valueOnward,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { CurveOwner } from '../../session';
import { Moves } from './moves';

/** A channel as the graph and the time table show it. */
export interface Track {
  readonly channel: Channel;
  readonly face: ChannelFace;
  readonly curve: Curve;
  readonly after: AfterLast;
  readonly colour: string;
  /** Value at the playhead, in the channel's unit. */
  readonly value: number;
}

/** What has curves: a camera's move, or a thing of the set with keys. */
interface Curved {
  readonly curves: Readonly<Record<string, Curve | undefined>>;
  readonly after: Readonly<Record<string, AfterLast | undefined>>;
}

/** Colours of curves, told apart by colour-blind eyes (Tol's bright and muted sets), never without their name beside them. */
const TRACK_COLOURS = [
  '#66ccee',
  '#ee8866',
  '#44bb99',
  '#eedd88',
  '#bb7ad6',
  '#aaaa00',
  '#77aadd',
  '#ffaabb',
  '#99ddff',
];

const RANK: readonly string[] = CHANNELS;
const rankOf = (channel: string): number => (RANK.includes(channel) ? RANK.indexOf(channel) : RANK.length);

/** Channels with keys of the edited camera, or of a thing of the set, as the graph and the time table show them. */
@Injectable({ providedIn: 'root' })
export class Tracks {
  private readonly store = inject(ProjectStore);
  private readonly moves = inject(Moves);

  /** Channels shown in the graph; all when empty. */
  readonly alone = signal<ReadonlySet<string>>(new Set());
  /** What a drag shows before it ends. */
  readonly dragged = signal<Readonly<Record<string, Curve>> | undefined>(undefined);

  private readonly owner = inject(CurveOwner);
  private readonly thingId = this.owner.thingId;
  /** Things of the set that have keys, or are shown. */
  readonly things = computed<readonly Placement[]>(() => {
    const placements = Object.values(this.store.project()?.placements ?? {});
    return placements
      .filter(({ id, motion }) => motion.kind === 'keys' || (id === this.thingId() && motion.kind === 'still'))
      .sort((a, b) => a.name.localeCompare(b.name));
  });
  readonly thing = computed(() => this.things().find(({ id }) => id === this.thingId()));
  /** Curves of what is shown, and what they do after their last keys. */
  readonly curved = computed<Curved | undefined>(() => {
    const [thing, camera, move] = [this.thing(), this.moves.camera(), this.moves.move()];
    if (!thing) return camera && move;
    return thing.motion.kind === 'keys' ? { curves: thing.motion.curves, after: thing.motion.after ?? {} } : undefined;
  });

  /** Shows the curves of a thing of the set; of the camera without one. */
  show(thingId: string | undefined): void {
    this.alone.set(new Set());
    this.dragged.set(undefined);
    this.owner.show(thingId);
  }

  /** Every channel with keys, in the order of channels, then of light groups. */
  readonly all = computed<readonly Track[]>(() => {
    const [project, move] = [this.store.project(), this.curved()];
    if (!project || !move) return [];
    const dragged = this.dragged();
    const at = this.moves.atFlicks();
    return Object.keys(move.curves)
      .sort((a, b) => rankOf(a) - rankOf(b) || a.localeCompare(b))
      .map((name, i): Track => {
        const channel = name as Channel;
        const curve = dragged?.[name] ?? move.curves[name] ?? [];
        const after = move.after[name] ?? 'stay';
        return {
          channel,
          curve,
          after,
          face: channelFace(channel, project.lightGroups),
          colour: TRACK_COLOURS[i % TRACK_COLOURS.length] ?? '#fff',
          value: valueOnward(curve, after, at) ?? 0,
        };
      });
  });
  readonly shown = computed(() => {
    const alone = this.alone();
    const found = this.all().filter(({ channel }) => alone.has(channel));
    return found.length > 0 ? found : this.all();
  });

  /** Channels that can be keyed and are not yet. */
  readonly addable = computed<readonly { id: Channel; name: string }[]>(() => {
    const [project, camera] = [this.store.project(), this.moves.camera()];
    const keyed = new Set(this.all().map(({ channel }) => channel));
    const named = (ids: readonly Channel[]) =>
      ids
        .filter((channel) => !keyed.has(channel))
        .map((id) => ({ id, name: channelFace(id, project?.lightGroups ?? {}).name }));
    if (this.thing()) return named(PLACEMENT_CHANNELS);
    if (!project || !camera) return [];
    const own: readonly NamedChannel[] = [
      ...markChannels(camera),
      ...(camera.rig.kind === 'sticks' ? [] : (['rigX', 'rigY', 'rigZ', 'rigTurn'] as const)),
      ...(camera.aim.kind === 'point' ? (['aimX', 'aimY', 'aimZ'] as const) : []),
      ...(['fStop', 'ev', 'shiftX', 'shiftY', 'handheld', ...LOOK_CHANNELS, 'timeWarp'] as const),
    ];
    const lights = Object.keys(project.lightGroups).flatMap((id): Channel[] => Object.values(lightChannels(id)));
    return named([...own, ...lights]);
  });
}
