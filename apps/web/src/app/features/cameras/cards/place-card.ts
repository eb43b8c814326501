import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Aim, Camera, Channel, SubjectPoint } from '@arvex/core';
import { distanceAlongAxis, lengthText, SUBJECT_POINTS, withAxis } from '@arvex/core';
import { Notices } from '../../../data';
import {
  AngleField,
  Card,
  ChoiceField,
  choicesOf,
  DurationField,
  LengthField,
  NumberField,
  PERCENT,
  Switch,
} from '../../../ui';
import { CameraBench } from '../camera-bench';
import { ClipSurvey } from '../clip-survey';
import { PictureTools } from '../picture-tools';
import { Subjects } from '../subjects';
import { ChannelState } from '../channel-state';

const PLACES: readonly { channel: Channel; name: string; short: string; axis: string }[] = [
  { channel: 'positionX', name: 'East', short: 'E', axis: 'x' },
  { channel: 'positionY', name: 'Height', short: 'up', axis: 'y' },
  { channel: 'positionZ', name: 'South', short: 'S', axis: 'z' },
];
const TURNS: readonly { channel: Channel; name: string }[] = [
  { channel: 'pan', name: 'pan' },
  { channel: 'tilt', name: 'tilt' },
  { channel: 'roll', name: 'roll' },
];
const AIMS = [
  { id: 'free', name: 'free' },
  { id: 'point', name: 'at a point' },
  { id: 'subject', name: 'at a subject' },
] as const;

/** Where the camera stands and where it looks, in numbers, and what its clip distances cut away. */
@Component({
  selector: 'arvex-place-card',
  imports: [ChannelState, DurationField, AngleField, Switch, Card, ChoiceField, LengthField, MatIcon, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './place-card.html',
})
export class PlaceCard {
  protected readonly bench = new CameraBench();
  protected readonly tools = inject(PictureTools);
  private readonly survey = inject(ClipSurvey);
  private readonly seen = inject(Subjects);
  private readonly notices = inject(Notices);
  protected readonly places = PLACES;
  protected readonly turns = TURNS;
  /** A path of its own comes from a move through views: it can be left, not chosen. */
  protected readonly aims = computed(() =>
    this.aim().kind === 'path' ? [...AIMS, { id: 'path' as const, name: 'along a path' }] : AIMS,
  );
  protected readonly percent = PERCENT;
  protected readonly points = choicesOf(SUBJECT_POINTS);
  protected readonly subjects = this.seen.choices;
  protected readonly angles = computed<Partial<Record<Channel, number>>>(() => {
    const state = this.bench.state();
    return state ? { pan: state.panDeg, tilt: state.tiltDeg, roll: state.rollDeg } : {};
  });
  protected readonly aim = computed<Aim>(() => this.bench.camera()?.aim ?? { kind: 'free' });
  protected readonly subjectAim = computed(() => {
    const aim = this.aim();
    return aim.kind === 'subject' ? aim : undefined;
  });
  protected setHeadOffset(axis: number, mm: number): void {
    const offset = this.bench.camera()?.headOffsetMm;
    if (offset) this.bench.set('Offset of the head', { headOffsetMm: withAxis(offset, axis, mm) });
  }

  /** Pan and tilt follow from the aim while there is one. */
  protected readonly aimed = computed(() => {
    const aim = this.subjectAim();
    return ['point', 'path'].includes(this.aim().kind) || (aim?.weight ?? 0) > 0;
  });
  protected readonly summary = computed(() => {
    const state = this.bench.state();
    if (!state) return '';
    return `${lengthText(state.positionM[1], this.bench.unit())} pan ${state.panDeg.toFixed(0)}° tilt ${state.tiltDeg.toFixed(0)}°`;
  });
  protected readonly distances = computed(() => {
    const state = this.bench.state();
    if (!state) return '';
    const text = (metres: number) => lengthText(metres, this.bench.unit());
    const nearest = this.survey.seen()?.cameraId === state.cameraId ? this.survey.seen()?.nearest : undefined;
    const parts = [
      ...(state.aimM ? [`aim at ${text(distanceAlongAxis(state, state.aimM))}`] : []),
      ...(nearest ? [`nearest in frame: ${nearest.name} at ${text(nearest.distanceM)}`] : []),
    ];
    return parts.join(' · ');
  });

  protected set(what: string, channel: Channel, value: number): void {
    this.bench.setChannels(what, { [channel]: value });
  }

  protected setClip(parts: Partial<Camera['clip']>): void {
    const clip = this.bench.camera()?.clip;
    if (clip) this.bench.set('Clip distances', { clip: { ...clip, ...parts } });
  }

  /** What it looked at stays in view: free keeps the angles it has, a point is taken at the focus distance. */
  protected setAimKind(kind: Aim['kind']): void {
    const state = this.bench.state();
    if (!state || kind === this.aim().kind) return;
    if (kind === 'free') {
      this.bench.set('Aim free', { aim: { kind } });
      this.bench.setChannels('Aim free', { pan: state.panDeg, tilt: state.tiltDeg });
    } else if (kind === 'point') this.tools.use('aim');
    else if (kind === 'subject') this.aimAtSeen();
  }

  /** At whom the camera sees: never at somebody behind it. */
  private aimAtSeen(): void {
    const subject = this.seen.meant();
    if (subject) this.aimAt(subject.id);
    else this.notices.done('Nobody is in front of this camera. Turn it to somebody, or aim it at a point.');
  }

  protected aimAt(placementId: string): void {
    const before = this.subjectAim();
    const name = this.bench.store.project()?.placements[placementId]?.name ?? 'subject';
    const aim: Aim = {
      kind: 'subject',
      point: 'eyes',
      offsetM: [0, 0, 0],
      weight: 1,
      smoothingS: 0,
      ...before,
      placementId,
    };
    this.bench.set(`Aim at ${name}`, { aim });
  }

  protected setSubjectAim(what: string, parts: Partial<Extract<Aim, { kind: 'subject' }>>): void {
    const aim = this.subjectAim();
    if (aim) this.bench.set(what, { aim: { ...aim, ...parts } });
  }

  protected setPoint(point: SubjectPoint): void {
    this.setSubjectAim(`Aim at its ${point}`, { point });
  }

  protected setOffset(axis: number, value: number): void {
    const offset = withAxis(this.subjectAim()?.offsetM ?? [0, 0, 0], axis, value);
    this.setSubjectAim('Offset of the aim', { offsetM: offset });
  }
}
