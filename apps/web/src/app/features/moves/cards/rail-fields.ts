import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { MatSliderModule } from '@angular/material/slider';
import type { RigOf } from '@arvex/core';
import { changeRig, eachAxis, lengthText, refitRail, refittedTrack, reshapeRail, setRig, withAxis } from '@arvex/core';
import { IconButton, LengthField, NumberField, Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Moves } from '../moves';

/** More nodes than this nobody lays by the slider. */
const MOST_NODES = 24;

/** A rail in numbers: where the trolley stands, the camera over it, and every node of the track. */
@Component({
  selector: 'arvex-rail-fields',
  imports: [IconButton, MatSliderModule, Switch, LengthField, MatMenuModule, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './rail-fields.html',
  styleUrl: './rail-fields.scss',
})
export class RailFields {
  /** The trolley at the playhead. */
  readonly along = input.required<number>();
  protected readonly axes = ['east', 'height', 'south'];
  protected readonly bench = new CameraBench();
  private readonly moves = inject(Moves);
  protected readonly rail = computed<RigOf<'rail'> | undefined>(() => {
    const rig = this.bench.camera()?.rig;
    return rig?.kind === 'rail' ? rig : undefined;
  });

  protected readonly mostNodes = MOST_NODES;
  /** So many nodes are asked for, while the slider is dragged. */
  protected readonly wished = signal<number | undefined>(undefined);
  protected readonly nodesText = computed(() => {
    const [rig, count] = [this.rail(), this.wished()];
    if (!rig) return '';
    if (count === undefined || count === rig.nodesM.length) return `${rig.nodesM.length}`;
    const { nodesM, offM } = refittedTrack(rig, count);
    return `${nodesM.length} · ${lengthText(offM, this.bench.unit())} off`;
  });

  /** Lays the track anew through its own way, with so many nodes. */
  protected refit(count: number): void {
    this.wished.set(undefined);
    if (count !== this.rail()?.nodesM.length) {
      this.moves.editClosely((project, cameraId) => refitRail(project, cameraId, count));
    }
  }

  protected reshape(what: string, parts: Partial<RigOf<'rail'>>): void {
    const rig = this.rail();
    if (!rig) return;
    this.moves.edit((project, cameraId) => reshapeRail(project, cameraId, what, { ...rig, ...parts }));
  }

  protected setNode(index: number, axis: number, value: number): void {
    const rig = this.rail();
    if (!rig) return;
    const nodesM = rig.nodesM.map((node, i) => (i === index ? withAxis(node, axis, value) : node));
    this.reshape(`Node ${index + 1}`, { nodesM });
  }

  /** A node halfway to the next one, or on beyond the last. */
  protected addNode(index: number): void {
    const rig = this.rail();
    if (!rig) return;
    const [here, next, before] = [rig.nodesM[index], rig.nodesM[index + 1], rig.nodesM[index - 1]];
    if (!here) return;
    const node = eachAxis((axis) => {
      const [value, to, from] = [here[axis], next?.[axis], before?.[axis]];
      return to !== undefined ? (value + to) / 2 : value + (value - (from ?? value - 1)) / 2;
    });
    const nodesM = [...rig.nodesM.slice(0, index + 1), node, ...rig.nodesM.slice(index + 1)];
    const straight =
      rig.straight.length === 0
        ? []
        : [...rig.straight.slice(0, index + 1), rig.straight[index] ?? false, ...rig.straight.slice(index + 1)];
    this.reshape('Add a node', { nodesM, straight });
  }

  protected removeNode(index: number): void {
    const rig = this.rail();
    if (!rig || rig.nodesM.length < 3) return;
    const without = <T>(list: readonly T[]): T[] => list.filter((_, i) => i !== index);
    this.reshape('Take out a node', { nodesM: without(rig.nodesM), straight: without(rig.straight) });
  }

  protected setStraight(index: number): void {
    const rig = this.rail();
    if (!rig) return;
    const straight = rig.nodesM.map((_, i) => (i === index ? !rig.straight[i] : (rig.straight[i] ?? false)));
    this.reshape(straight[index] ? 'Straight piece' : 'Bent piece', { straight });
  }

  protected setBy(by: 'distance' | 'share'): void {
    const rig = this.rail();
    if (!rig || rig.by === by) return;
    this.moves.editClosely((project, cameraId, at) => changeRig(project, cameraId, { ...rig, by }, at));
  }

  protected setOver(axis: number, value: number): void {
    const rig = this.rail();
    if (!rig) return;
    const cameraM = withAxis(rig.cameraM, axis, value);
    this.moves.edit((project, cameraId) => setRig(project, cameraId, 'Camera over the trolley', { ...rig, cameraM }));
  }
}
