import { computed, inject, Injectable, signal } from '@angular/core';
import type { AfterLast, Channel, ChannelFace, Curve, Placement } from '@arvex/core';
import { channelFace, CHANNELS, valueOnward } from '@arvex/core';
import { ProjectStore } from '../../data';
import { CurveOwner } from '../../session';
import type { CurveSubject } from './curve-subject';
import { cameraCurves, thingCurves } from './curve-subject';
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
  /** Whose curves are shown: the thing's, where one is asked for, else the edited camera's. */
  readonly subject = computed<CurveSubject | undefined>(() => {
    const [thing, camera] = [this.thing(), this.moves.camera()];
    if (thing) return thingCurves(thing);
    return camera && cameraCurves(camera, this.moves.move(), Object.keys(this.store.project()?.lightGroups ?? {}));
  });

  /** Shows the curves of a thing of the set; of the camera without one. */
  show(thingId: string | undefined): void {
    this.alone.set(new Set());
    this.dragged.set(undefined);
    this.owner.show(thingId);
  }

  /** Every channel with keys, in the order of channels, then of light groups. */
  readonly all = computed<readonly Track[]>(() => {
    const [project, subject] = [this.store.project(), this.subject()];
    if (!project || !subject) return [];
    const dragged = this.dragged();
    const at = this.moves.atFlicks();
    return Object.keys(subject.curves)
      .sort((a, b) => rankOf(a) - rankOf(b) || a.localeCompare(b))
      .map((name, i): Track => {
        const channel = name as Channel;
        const curve = dragged?.[name] ?? subject.curves[name] ?? [];
        const after = subject.after[name] ?? 'stay';
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
    const keyed = new Set(this.all().map(({ channel }) => channel));
    const groups = this.store.project()?.lightGroups ?? {};
    const channels = this.subject()?.channels.filter((channel) => !keyed.has(channel)) ?? [];
    return channels.map((id) => ({ id, name: channelFace(id, groups).name }));
  });
}
