import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Rig, RigKind, RigOf, SubjectPoint, Vector } from '@arvex/core';
import {
  changeRig,
  channelValuesAt,
  lengthText,
  moveOf,
  pathThrough,
  RIG_KINDS,
  setRig,
  SUBJECT_POINTS,
  trackShape,
} from '@arvex/core';
import {
  VectorRow,
  AngleField,
  Card,
  ChoiceField,
  choicesOf,
  DurationField,
  LengthField,
  Switch,
  switchChoices,
} from '../../../ui';
import { CameraBench, PictureTools, Subjects, Things } from '../../cameras';
import { Tried } from '../../../session';
import { POINTED } from '../move-orders';
import { RigHandles } from '../rig-handles';
import { Rigs } from '../rigs';
import { Moves } from '../moves';
import { CraneFields } from './crane-fields';
import { RailFields } from './rail-fields';

/** What carries the camera, with the numbers of the real thing. */
@Component({
  selector: 'arvex-rig-card',
  imports: [
    DurationField,
    VectorRow,
    AngleField,
    Switch,
    Card,
    ChoiceField,
    LengthField,
    MatIcon,
    MatTooltip,
    RailFields,
    CraneFields,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './rig-card.html',
})
export class RigCard {
  protected readonly bench = new CameraBench();
  protected readonly moves = inject(Moves);
  protected readonly rigs = inject(Rigs);
  protected readonly offset = ['offsetX', 'offsetY', 'offsetZ'] as const;
  protected readonly kinds = switchChoices(RIG_KINDS);
  protected readonly points = choicesOf(SUBJECT_POINTS);
  protected readonly handles = inject(RigHandles);
  private readonly tools = inject(PictureTools);
  private readonly things = inject(Things);
  private readonly tried = inject(Tried);
  protected readonly subjects = inject(Subjects).choices;
  protected readonly middles = computed(() => [
    { id: '', name: 'a place of its own' },
    { id: POINTED, name: 'a point I click …' },
    ...this.things.choices(),
  ]);
  protected readonly rig = computed<Rig>(() => this.bench.camera()?.rig ?? { kind: 'sticks' });
  /** Values of all channels at the playhead. */
  protected readonly values = computed(() => {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (!project || !camera) return undefined;
    const tried = this.tried.valuesOf(camera.id);
    return channelValuesAt(camera, moveOf(project, camera.id), this.moves.atFlicks(), tried);
  });
  protected readonly trackM = computed(() => {
    const rig = this.rig();
    return rig.kind === 'rail' ? pathThrough(rig.nodesM, rig.closed, trackShape(rig)).lengthM : 0;
  });
  protected readonly summary = computed(() => {
    const [rig, values, unit] = [this.rig(), this.values(), this.bench.unit()];
    if (!values) return '';
    switch (rig.kind) {
      case 'sticks':
        return 'sticks';
      case 'rail':
        return `rail ${lengthText(this.trackM(), unit)} · ${rig.nodesM.length} nodes`;
      case 'crane':
        return `crane, arm ${lengthText(values.arm, unit)} at ${values.pitch.toFixed(0)}°`;
      case 'orbit':
        return `orbit, radius ${lengthText(values.radius, unit)}`;
      case 'follow':
        return `follows ${this.bench.store.project()?.placements[rig.subjectId ?? '']?.name ?? 'nobody'}`;
    }
  });

  /** Changes what of the rig does not move with time. */
  protected set<K extends RigKind>(kind: K, what: string, parts: Partial<RigOf<K>>): void {
    const rig = this.rig();
    if (rig.kind !== kind) return;
    this.moves.edit((project, cameraId) => setRig(project, cameraId, what, { ...rig, ...parts }));
  }

  /** Changes the rig, and lets the camera stay where it is at the playhead. */
  protected setKeeping(parts: {
    subjectId?: string | null;
    head?: 'world' | 'carried';
    axes?: 'subject' | 'world';
  }): void {
    const rig = this.rig();
    if (rig.kind === 'sticks') return;
    const state = this.bench.state();
    const free = rig.kind === 'orbit' && parts.subjectId === null && state?.aimM;
    const atM = free ? ([...free] as Vector) : parts.subjectId ? ([0, 0, 0] as Vector) : rig.atM;
    this.moves.editClosely((project, cameraId, at) => changeRig(project, cameraId, { ...rig, ...parts, atM }, at));
  }

  /** What an orbit goes round: a thing, a place of its own, or a point that is clicked. */
  protected setMiddle(id: string): void {
    if (id !== POINTED) {
      this.setKeeping({ subjectId: id || null });
      return;
    }
    this.tools.point('Click the point that the camera is to go round', (pointM) => {
      const rig = this.rig();
      if (rig.kind !== 'orbit') return;
      const atM: Vector = [...pointM];
      this.moves.editClosely((project, cameraId, at) =>
        changeRig(project, cameraId, { ...rig, subjectId: null, atM }, at),
      );
    });
  }

  protected setPoint(point: SubjectPoint): void {
    const { kind } = this.rig();
    if (kind === 'orbit' || kind === 'follow') this.set(kind, `Middle at its ${point}`, { point });
  }
}
