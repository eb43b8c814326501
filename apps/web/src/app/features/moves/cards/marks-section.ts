import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { Channel, Mark } from '@arvex/core';
import {
  channelFace,
  FLICKS_PER_SECOND,
  isMovedOff,
  leaveOutMark,
  renameMark,
  reorderMark,
  restOf,
  secondsFromFlicks,
  setLeg,
  setMark,
  setRest,
  spaceMarks,
  stillMove,
} from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import { ActionButton, cameraColour, IconButton, NameField, DurationField } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Tried } from '../../../session';
import { Marks } from '../marks';
import { Moves } from '../moves';

/** The composed poses of a camera at their times: jumped to, overwritten, put in order, spaced, left out. */
@Component({
  selector: 'arvex-marks-section',
  imports: [
    DurationField,
    ActionButton,
    IconButton,
    Thumbnail,
    CdkDrag,
    CdkDropList,
    MatIcon,
    MatMenuModule,
    MatTooltip,
    NameField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './marks-section.html',
  styleUrls: ['../../../ui/bench-step.scss', './marks-section.scss'],
})
export class MarksSection {
  protected readonly bench = new CameraBench();
  protected readonly marks = inject(Marks);
  protected readonly moves = inject(Moves);
  private readonly tried = inject(Tried);
  protected readonly colour = cameraColour;

  protected readonly first = computed(() => this.bench.store.project()?.head.firstFrame ?? 0);
  protected readonly frame = computed(
    () => this.first() + Math.round(this.moves.atFlicks() / this.moves.frameFlicks()),
  );
  protected readonly here = computed(() => this.marks.marks().find((mark) => this.isHere(mark)));
  protected readonly summary = computed(() => {
    const marks = this.marks.marks().filter((mark) => !mark.leftOut);
    const [from, to] = [marks[0]?.atFlicks ?? 0, marks.at(-1)?.atFlicks ?? 0];
    if (marks.length < 2) return marks.length === 0 ? 'none' : '1 mark';
    return `${marks.length} in ${secondsFromFlicks(to - from).toFixed(2)} s`;
  });
  /** Marks with the length of the leg to the next one, seconds. */
  protected readonly rows = computed(() => {
    const [marks, move, camera] = [this.marks.marks(), this.moves.move(), this.bench.camera()];
    return marks.map((mark, i) => {
      const next = marks[i + 1];
      return {
        mark,
        legS: next && secondsFromFlicks(next.atFlicks - mark.atFlicks),
        restS: restOf(move, mark),
        off: move && camera ? isMovedOff(move, camera, mark) : false,
      };
    });
  });
  /** What moves a camera that has no marks, in words: its keys, and what carries or aims it. */
  protected readonly moving = computed(() => {
    const [move, camera] = [this.moves.move(), this.bench.camera()];
    if (!camera) return '';
    const channels = Object.keys(move?.curves ?? {}) as Channel[];
    const lights = this.bench.store.project()?.lightGroups ?? {};
    const names = channels.map((channel) => channelFace(channel, lights).name);
    const keys = names.length > 3 ? [`${names.slice(0, 2).join(', ')} and ${names.length - 2} more`] : names;
    const parts = [
      ...(keys.length > 0 ? [`its keys of ${keys.join(', ')}`] : []),
      ...(camera.rig.kind === 'follow' ? ['whom it follows'] : []),
      ...(camera.handheld.on ? ['the hand'] : []),
    ];
    return parts.length > 0 ? `${parts.join(' and ')} ${keys.length + parts.length > 1 ? 'move' : 'moves'}` : '';
  });

  /** Whether the playhead is at a mark: on the frame that shows it. */
  protected isHere(mark: Mark): boolean {
    return Math.abs(this.marks.sceneFlicks(mark) - this.moves.atFlicks()) <= this.moves.frameFlicks() / 2;
  }

  protected space(): void {
    this.moves.edit((project, cameraId) => spaceMarks(project, cameraId, this.moves.frameFlicks()));
  }

  protected rename(mark: Mark, name: string): void {
    this.moves.edit((project, cameraId) => renameMark(project, cameraId, mark.id, name));
  }

  protected leaveOut(mark: Mark): void {
    this.moves.edit((project, cameraId) => leaveOutMark(project, cameraId, mark.id, mark.leftOut === null));
  }

  /** The pose that is seen now takes the mark's place, at the mark's time. */
  protected overwrite(mark: Mark): void {
    const [state, camera] = [this.bench.state(), this.bench.camera()];
    if (!state || !camera) return;
    const { positionM, panDeg: pan, tiltDeg: tilt, rollDeg: roll, lens, focus } = state;
    const [positionX, positionY, positionZ] = positionM;
    const values = this.bench.setting.ownValues(camera.id, { positionX, positionY, positionZ, pan, tilt, roll });
    const all = { ...values, focalLength: lens.focalLengthMm, focusDistance: focus.distanceM };
    const kept = this.moves.edit((project, cameraId) =>
      setMark(project, cameraId, this.marks.sceneFlicks(mark), mark.id, all),
    );
    // What was tried is kept in the mark.
    if (kept && this.tried.poseOf(camera.id)) this.tried.letPoseGo();
  }

  protected setLegOf(mark: Mark, legS: number): void {
    const frame = this.moves.frameFlicks();
    const flicks = Math.max(1, Math.round((legS * FLICKS_PER_SECOND) / frame)) * frame;
    this.moves.edit((project, cameraId) => setLeg(project, cameraId, mark.id, flicks));
  }

  protected setRest(mark: Mark, seconds: number): void {
    this.moves.edit((project, cameraId) => setRest(project, cameraId, mark.id, seconds));
  }

  protected drop({ item, currentIndex }: CdkDragDrop<unknown, unknown, Mark>): void {
    this.moves.edit((project, cameraId) => reorderMark(project, cameraId, item.data.id, currentIndex));
  }

  /** Puts a mark one place earlier or later, for the keyboard. */
  protected shift(mark: Mark, by: number): void {
    const index = this.marks.marks().findIndex(({ id }) => id === mark.id);
    this.moves.edit((project, cameraId) => reorderMark(project, cameraId, mark.id, Math.max(0, index + by)));
  }

  protected still(): void {
    this.moves.begin((project, cameraId, atFlicks) => stillMove(project, cameraId, atFlicks));
  }
}
