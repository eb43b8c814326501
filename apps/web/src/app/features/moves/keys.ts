import { computed, inject, Injectable, signal } from '@angular/core';
import type { AfterLast, Channel, ChannelFace, Curve, Key, KeyMapping } from '@arvex/core';
import {
  channelFace,
  CoreError,
  easedKeys,
  looped,
  mapKeys,
  merged,
  reversed,
  shapedKeys,
  thinned,
  toleranceOf,
  withKey,
  withoutKey,
} from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import type { CurveSubject, MovedTo } from './curve-subject';
import { Moves } from './moves';
import { Tracks } from './tracks';

/** Values nearer than this are the same, in their channel's unit. */
const SAME_VALUE = 1e-9;

/** Keys chosen in the graph or the time table, and what is done with them. */
@Injectable({ providedIn: 'root' })
export class Keys {
  private readonly store = inject(ProjectStore);
  private readonly moves = inject(Moves);
  private readonly tracks = inject(Tracks);
  private readonly notices = inject(Notices);

  /** Times of chosen keys by channel. */
  readonly chosen = signal<Readonly<Record<string, ReadonlySet<number>>>>({});
  /** Those of them that are still there: an undo may have taken some away. */
  private readonly present = computed<Readonly<Record<string, ReadonlySet<number>>>>(() => {
    const entries = this.tracks.all().flatMap(({ channel, curve }) => {
      const times = this.chosen()[channel];
      const there = curve.filter(({ atFlicks }) => times?.has(atFlicks)).map(({ atFlicks }) => atFlicks);
      return there.length > 0 ? [[channel, new Set(there)] as const] : [];
    });
    return Object.fromEntries(entries);
  });
  private copied: Readonly<Record<string, Curve>> = {};
  readonly hasCopied = signal(false);

  readonly count = computed(() => Object.values(this.present()).reduce((sum, times) => sum + times.size, 0));

  /** The one chosen key, with its channel. */
  readonly single = computed(() => {
    if (this.count() !== 1) return undefined;
    for (const track of this.tracks.all()) {
      const [time] = this.present()[track.channel] ?? [];
      const key = track.curve.find(({ atFlicks }) => atFlicks === time);
      if (key) return { track, key };
    }
    return undefined;
  });

  isChosen(channel: Channel, { atFlicks }: Key): boolean {
    return this.chosen()[channel]?.has(atFlicks) ?? false;
  }

  choose(channel: Channel, atFlicks: number, more: boolean): void {
    const before = more ? this.chosen() : {};
    const times = new Set(before[channel]);
    if (more && times.has(atFlicks)) times.delete(atFlicks);
    else times.add(atFlicks);
    this.chosen.set({ ...before, [channel]: times });
  }

  chooseAll(): void {
    const all = this.tracks.shown().map(({ channel, curve }) => [channel, new Set(curve.map((key) => key.atFlicks))]);
    this.chosen.set(Object.fromEntries(all) as Record<string, ReadonlySet<number>>);
  }

  /** Chosen curves after something is done with their chosen keys. */
  private with(change: (curve: Curve, times: ReadonlySet<number>, channel: Channel) => Curve): Record<string, Curve> {
    const changed = this.tracks.all().flatMap(({ channel, curve }) => {
      const times = this.present()[channel];
      return times && times.size > 0 ? [[channel, change(curve, times, channel)] as const] : [];
    });
    return Object.fromEntries(changed);
  }

  private readonly snap = (flicks: number): number => {
    const frame = this.moves.frameFlicks();
    return Math.round(flicks / frame) * frame;
  };

  /**
   * Chosen keys moved or scaled. They stop together at the scene's first frame, all channels in step; as they are where two of a
   * channel would fall on one frame.
   */
  mapped(mapping: KeyMapping, values: Readonly<Record<string, number>> = {}): Record<string, Curve> {
    try {
      return this.mapping(this.held(mapping), values);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      return this.mapping({}, values);
    }
  }

  private mapping(mapping: KeyMapping, values: Readonly<Record<string, number>>): Record<string, Curve> {
    return this.with((curve, times, channel) =>
      mapKeys(curve, times, { ...mapping, shiftValue: values[channel] ?? mapping.shiftValue ?? 0 }, this.snap),
    );
  }

  /** A mapping that brings no chosen key to before the scene. */
  private held(mapping: KeyMapping): KeyMapping {
    const times = Object.values(this.present()).flatMap((chosen) => [...chosen]);
    const first = Math.min(0, ...times.map((time) => this.mappedTime(time, mapping)));
    return { ...mapping, shiftFlicks: (mapping.shiftFlicks ?? 0) - first };
  }

  private mappedTime(time: number, { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 }: KeyMapping): number {
    return this.snap(aboutFlicks + (time - aboutFlicks) * timeScale + shiftFlicks);
  }

  /** @param movedTo the new times of keys that were moved: the marks that own them go along. @returns whether it was made. */
  commit(what: string, curves: Readonly<Record<string, Curve>>, movedTo?: MovedTo): boolean {
    if (Object.keys(curves).length === 0) return false;
    return this.edit((subject) => subject.withCurves(what, curves, movedTo));
  }

  /** Makes a mapping, and keeps the same keys chosen where they have come to. */
  map(what: string, mapping: KeyMapping, values: Readonly<Record<string, number>> = {}): void {
    const [held, chosen] = [this.held(mapping), this.present()];
    try {
      const movedTo = (channel: string, time: number) =>
        chosen[channel]?.has(time) ? this.mappedTime(time, held) : time;
      if (!this.commit(what, this.mapping(held, values), movedTo)) return;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return;
    }
    const to = (time: number) => this.mappedTime(time, held);
    const entries = Object.entries(chosen).map(([channel, times]) => [channel, new Set([...times].map(to))]);
    this.chosen.set(Object.fromEntries(entries) as Record<string, ReadonlySet<number>>);
  }

  scaleTime(factor: number): void {
    this.map(`Scale keys ${Math.round(factor * 100)} %`, { timeScale: factor, aboutFlicks: this.moves.atFlicks() });
  }

  shape(shape: Key['shape']): void {
    this.commit(
      `Keys ${shape}`,
      this.with((curve, times) => shapedKeys(curve, times, shape)),
    );
  }

  ease(shares: { in: number; out: number }): void {
    this.commit(
      'Ease keys',
      this.with((curve, times) => easedKeys(curve, times, shares)),
    );
  }

  delete(): void {
    const fewer = this.with((curve, times) => curve.filter((key) => !times.has(key.atFlicks)));
    if (this.commit(`Delete ${this.count()} ${this.count() === 1 ? 'key' : 'keys'}`, fewer)) this.chosen.set({});
  }

  reverse(): void {
    this.commit(
      'Reverse keys',
      this.with((curve, times) => reversed(curve, times)),
    );
  }

  /** Mirrors values about the middle between the least and the greatest chosen one. */
  mirror(): void {
    this.commit('Mirror keys', this.scaledInValue(-1));
  }

  scaleValue(factor: number): void {
    this.commit(`Scale values ${Math.round(factor * 100)} %`, this.scaledInValue(factor));
  }

  private scaledInValue(valueScale: number): Record<string, Curve> {
    return this.with((curve, times) => {
      const values = curve.filter((key) => times.has(key.atFlicks)).map((key) => key.value);
      const aboutValue = (Math.min(...values) + Math.max(...values)) / 2;
      return mapKeys(curve, times, { valueScale, aboutValue });
    });
  }

  /** Repeats the chosen keys after their last one; where a channel does not end as it began, they begin again a frame later. */
  loop(): void {
    const chosen = this.tracks
      .all()
      .map(({ channel, curve }) => curve.filter(({ atFlicks }) => this.present()[channel]?.has(atFlicks)));
    const times = chosen.flat().map(({ atFlicks }) => atFlicks);
    const span = Math.max(...times) - Math.min(...times);
    const seamless = chosen.every((keys) => Math.abs((keys[0]?.value ?? 0) - (keys.at(-1)?.value ?? 0)) < SAME_VALUE);
    const length = seamless && span > 0 ? span : span + this.moves.frameFlicks();
    this.commit(
      'Repeat keys',
      this.with((curve, own) => looped(curve, own, length)),
    );
  }

  /** Leaves out the chosen keys that are not needed, and says how far the curve strays. */
  thin(): void {
    const errors: string[] = [];
    const thinner = this.with((curve, times, channel) => {
      const keys = curve.filter((key) => times.has(key.atFlicks));
      const { curve: fit, error } = thinned(keys, toleranceOf(channel) * 10);
      const { name, unit } = this.faceOf(channel);
      if (fit.length < keys.length) {
        errors.push(`${name} ${keys.length} → ${fit.length} keys, within ${Number(error.toPrecision(2))} ${unit}`);
      }
      return merged(
        curve.filter((key) => !times.has(key.atFlicks)),
        fit,
      );
    });
    if (errors.length === 0) this.notices.done('Every chosen key is needed: nothing was left out.');
    else if (this.commit('Thin keys', thinner)) {
      this.notices.done(`${errors.join('; ')}.`);
      this.chosen.set({});
    }
  }

  copy(): void {
    this.copied = this.with((curve, times) => curve.filter((key) => times.has(key.atFlicks)));
    this.hasCopied.set(Object.keys(this.copied).length > 0);
  }

  /** Puts what was copied at the playhead: to its channels, or, when one channel was copied and one is alone, to that. */
  paste(): void {
    const at = this.moves.atFlicks();
    const curves = Object.entries(this.copied);
    const first = Math.min(...curves.flatMap(([, keys]) => keys.map((key) => key.atFlicks)));
    const [only] = this.tracks.alone();
    const pasted = curves.map(([channel, keys]): [string, Curve] => {
      const to = curves.length === 1 && only !== undefined ? only : channel;
      const before = this.tracks.subject()?.curves[to] ?? [];
      return [
        to,
        merged(
          before,
          keys.map((key) => ({ ...key, atFlicks: key.atFlicks - first + at })),
        ),
      ];
    });
    const dead = pasted.filter(([channel]) => this.tracks.subject()?.works(channel as Channel) === false);
    const alive = pasted.filter((one) => !dead.includes(one));
    if (dead.length > 0) {
      const names = dead.map(([channel]) => this.faceOf(channel as Channel).name).join(', ');
      this.notices.done(`Not pasted: ${names}. ${this.tracks.subject()?.without}`);
    }
    if (alive.length > 0) this.commit('Paste keys', Object.fromEntries(alive));
  }

  /** Keys a channel at the playhead as it is there. */
  keyHere(channel: Channel): void {
    this.edit((subject) => subject.keyed(channel));
  }

  setKey(channel: Channel, from: Key, to: Key): void {
    const curve = this.tracks.subject()?.curves[channel] ?? [];
    const movedTo = (one: string, time: number) => (one === channel && time === from.atFlicks ? to.atFlicks : time);
    if (this.commit('Move key', { [channel]: withKey(withoutKey(curve, from.atFlicks), to) }, movedTo)) {
      this.chosen.set({ [channel]: new Set([to.atFlicks]) });
    }
  }

  setAfter(channel: Channel, after: AfterLast): void {
    this.edit((subject) => subject.withAfter(channel, after));
  }

  /** @returns whether it was made. */
  private edit(make: (subject: CurveSubject) => ReturnType<CurveSubject['keyed']>): boolean {
    const [project, subject] = [this.store.project(), this.tracks.subject()];
    if (!project || !subject) return false;
    try {
      return this.store.commit(make(subject)(project, this.moves.atFlicks()));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return false;
    }
  }

  private faceOf(channel: Channel): ChannelFace {
    return channelFace(channel, this.store.project()?.lightGroups ?? {});
  }
}
