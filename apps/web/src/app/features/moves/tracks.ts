import { computed, inject, Injectable, signal } from '@angular/core';
import type { AfterLast, Channel, ChannelFace, Curve, NamedChannel } from '@arvex/core';
import { channelFace, CHANNELS, lightChannels, LOOK_CHANNELS, markChannels, valueOnward } from '@arvex/core';
import { ProjectStore } from '../../data';
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

/** The edited camera's channels with keys, as the graph and the time table show them. */
@Injectable({ providedIn: 'root' })
export class Tracks {
  private readonly store = inject(ProjectStore);
  private readonly moves = inject(Moves);

  /** Channels shown in the graph; all when empty. */
  readonly alone = signal<ReadonlySet<string>>(new Set());
  /** What a drag shows before it ends. */
  readonly dragged = signal<Readonly<Record<string, Curve>> | undefined>(undefined);

  /** Every channel with keys, in the order of channels, then of light groups. */
  readonly all = computed<readonly Track[]>(() => {
    const [project, camera, move] = [this.store.project(), this.moves.camera(), this.moves.move()];
    if (!project || !camera || !move) return [];
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
    if (!project || !camera) return [];
    const keyed = new Set(this.all().map(({ channel }) => channel));
    const own: readonly NamedChannel[] = [
      ...markChannels(camera),
      ...(camera.rig.kind === 'sticks' ? [] : (['rigX', 'rigY', 'rigZ', 'rigTurn'] as const)),
      ...(camera.aim.kind === 'point' ? (['aimX', 'aimY', 'aimZ'] as const) : []),
      ...(['fStop', 'ev', 'shiftX', 'shiftY', 'handheld', ...LOOK_CHANNELS, 'timeWarp'] as const),
    ];
    const lights = Object.keys(project.lightGroups).flatMap((id): Channel[] => Object.values(lightChannels(id)));
    return [...own, ...lights]
      .filter((channel) => !keyed.has(channel))
      .map((id) => ({ id, name: channelFace(id, project.lightGroups).name }));
  });
}
