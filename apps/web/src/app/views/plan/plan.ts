import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { ChannelValues, Placement, Vector } from '@arvex/core';
import { anglesToward, boxCornersAt, placementAt, setPlacement, subjectFraming, subjectsIn } from '@arvex/core';
import { ProjectStore } from '../../data';
import { PictureTools } from '../../features/cameras';
import { FrameSelection, PieceDrag, PlanTools, SetPieces } from '../../features/set';
import { Playhead, Selection, Setting, SnapGrid, Tried, Viewpoint, Workspace } from '../../session';
import { followDrag, IconButton } from '../../ui';
import { PlanAction } from './plan-action';
import { PlanCameraMark } from './plan-camera';
import { PlanContents } from './plan-contents';
import { PlanPrompt } from './plan-prompt';
import { PlanRig } from './plan-rig';
import { PlanSheet } from './plan-sheet';
import type { PlanCamera, PlanPiece, PlanPoint } from './plan-shapes';
import { aimHandle, heightShade } from './plan-shapes';

/** How much more than whom it is about the plan shows at first. */
const ROOM_ABOUT = 1.35;
/** What is wider than this does not say what the plan is to show at first, metres. */
const BACKGROUND_M = 25;

/** The floor seen from above: north (−Z) is up. Cameras with their field; drag one to move it, drag its aim to turn it. */
@Component({
  selector: 'arvex-plan',
  imports: [IconButton, MatIcon, MatTooltip, PlanAction, PlanCameraMark, PlanPrompt, PlanRig],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [PlanContents],
  templateUrl: './plan.html',
  styleUrl: './plan.scss',
  host: {
    '(wheel)': 'zoom($event)',
    '(pointerdown)': 'pan($event)',
    '(keydown)': 'key($event)',
    tabindex: '0',
    role: 'group',
    'aria-label': 'Plan: arrow keys move it, plus and minus zoom',
    '(dblclick)': 'finish($event)',
    '(window:keydown.enter)': 'finish($event)',
    '[class.tool]': 'inHand() || placing()',
  },
})
export class Plan {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  protected readonly selection = inject(Selection);
  protected readonly tools = inject(PlanTools);
  protected readonly pictureTools = inject(PictureTools);
  private readonly setPieces = inject(SetPieces);
  private readonly trying = inject(Tried).as('plan');
  /** A tool is in hand: a press anywhere in the plan is its. */
  protected readonly inHand = computed(
    () =>
      this.tools.tool() !== 'none' ||
      this.setPieces.putting() !== undefined ||
      this.pictureTools.pointing() !== undefined,
  );
  private readonly pieceDrag = inject(PieceDrag);
  private readonly snapGrid = inject(SnapGrid);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** What of the floor is looked at, and how large. */
  protected readonly sheet = new PlanSheet(this.element);
  protected readonly perPixel = this.sheet.perPixel;

  private readonly contents = inject(PlanContents);
  protected readonly shade = heightShade;
  /** A camera that is being placed: from where it is pressed to where it is let go. */
  protected readonly placing = signal<readonly [PlanPoint, PlanPoint] | undefined>(undefined);

  protected readonly pieces = this.contents.pieces;
  protected readonly walks = this.contents.walks;
  protected readonly cameras = this.contents.cameras;
  protected readonly labels = computed(() => this.contents.labels(this.perPixel()));
  private fitted: string | undefined;

  constructor() {
    effect(() => this.fit());
    inject(FrameSelection)
      .framed$.pipe(takeUntilDestroyed())
      .subscribe((corners) => this.sheet.bringInSight(corners.map(([x, , z]): PlanPoint => [x, z])));
  }

  protected beginMove(event: PointerEvent, { camera, state }: PlanCamera): void {
    const [x, , z] = state.positionM;
    this.drag(event, camera.id, 'Move', (dx, dz) => ({ positionX: x + dx, positionZ: z + dz }));
  }

  /** The ring before a camera turns its head; where it is aimed at a point, that point goes round it. */
  protected beginAim(event: PointerEvent, { camera, state }: PlanCamera): void {
    const handle = aimHandle(state, this.perPixel());
    this.drag(event, camera.id, 'Aim', (dx, dz) => {
      const target = [handle.x + dx, state.positionM[1], handle.z + dz] as const;
      const { panDeg } = anglesToward(state.positionM, target);
      if (camera.aim.kind === 'point' && state.aimM) {
        const [x, , z] = state.positionM;
        const away = Math.hypot(state.aimM[0] - x, state.aimM[2] - z);
        const angle = (panDeg * Math.PI) / 180;
        return { aimX: x + Math.sin(angle) * away, aimZ: z - Math.cos(angle) * away };
      }
      return { pan: panDeg + 360 * Math.round((state.panDeg - panDeg) / 360) };
    });
  }

  private drag(
    event: PointerEvent,
    cameraId: string,
    what: string,
    valuesAfter: (dxM: number, dzM: number) => ChannelValues,
  ): void {
    if (event.button !== 0 || this.inHand()) return;
    event.stopPropagation();
    if (this.viewpoint.camera()?.id !== cameraId) this.playhead.lookThrough(cameraId);
    this.playhead.stop();
    let values: ChannelValues | undefined;
    followDrag(
      event,
      ({ dx, dy }) => {
        values = valuesAfter(dx * this.perPixel(), dy * this.perPixel());
        this.trying.show({ cameraId, values: this.setting.ownValues(cameraId, values) });
      },
      (kept) => {
        if (this.trying.end() && kept && values) this.setting.setChannels(cameraId, what, values);
      },
    );
  }

  /** A thing is chosen by a press and moved by a drag, in the Set step; elsewhere it is part of the floor. */
  protected beginPiece(event: PointerEvent, { placement }: PlanPiece): void {
    if (event.button !== 0 || this.workspace.step() !== 'set' || this.inHand()) return;
    event.stopPropagation();
    const more = event.shiftKey || event.ctrlKey;
    if (this.setPieces.attaching()) {
      this.setPieces.clicked(placement.id, false);
      return;
    }
    if (more || !this.selection.has(placement.id)) this.selection.pick(placement.id, more);
    followDrag(
      event,
      ({ dx, dy }) =>
        this.pieceDrag.move([
          this.snapGrid.length(dx * this.perPixel()),
          0,
          this.snapGrid.length(dy * this.perPixel()),
        ]),
      (kept) => this.pieceDrag.end(kept),
    );
  }

  /** Moves one node of a walk; the ground under the way is measured anew at the end. */
  protected beginNode(event: PointerEvent, placementId: string, index: number): void {
    const motion = this.store.project()?.placements[placementId]?.motion;
    if (event.button !== 0 || motion?.kind !== 'path' || this.inHand()) return;
    event.stopPropagation();
    const nodesWith = (dx: number, dz: number) =>
      motion.nodesM.map(([x, y, z], i): Vector => (i === index ? [x + dx, y, z + dz] : [x, y, z]));
    let nodes = motion.nodesM;
    followDrag(
      event,
      ({ dx, dy }) => {
        nodes = nodesWith(dx * this.perPixel(), dy * this.perPixel());
        const walked = { motion: { ...motion, nodesM: nodes, groundM: [] } };
        this.trying.show({ edit: (now) => setPlacement(now, placementId, 'Walk of', walked) });
      },
      (kept) => {
        this.trying.end();
        if (kept) void this.tools.setWalk(placementId, nodes, motion.closed);
      },
    );
  }

  /** A double click takes a node out, while two are left. */
  protected removeNode(event: Event, placementId: string, index: number): void {
    if (this.inHand()) return;
    event.stopPropagation();
    const motion = this.store.project()?.placements[placementId]?.motion;
    if (motion?.kind !== 'path' || motion.nodesM.length < 3) return;
    const nodesM = motion.nodesM.filter((_, i) => i !== index);
    void this.tools.setWalk(placementId, nodesM, motion.closed);
  }

  private placeCamera(event: PointerEvent): void {
    const from = this.sheet.placeOf(event);
    followDrag(
      event,
      (drag) => this.placing.set([from, this.sheet.placeOf(drag.event)]),
      (kept) => {
        const [, to] = this.placing() ?? [from, from];
        this.placing.set(undefined);
        if (kept) void this.tools.camera(from, to);
      },
    );
  }

  protected finish(event: Event): void {
    if (this.tools.tool() !== 'walk') return;
    event.preventDefault();
    void this.tools.finishWalk();
  }

  protected pan(event: PointerEvent): void {
    if (event.button !== 0) return;
    if (this.tools.tool() === 'camera') {
      this.placeCamera(event);
      return;
    }
    const place = this.sheet.placeOf(event);
    const move = this.sheet.grab();
    followDrag(
      event,
      ({ dx, dy }) => move(dx, dy),
      (moved, released) => {
        if (!moved && released) this.click(place, event);
      },
    );
  }

  protected key(event: KeyboardEvent): void {
    if (event.target !== this.element || event.ctrlKey || event.metaKey || event.altKey) return;
    if (this.sheet.key(event.key)) event.preventDefault();
  }

  private click([x, z]: PlanPoint, event: PointerEvent): void {
    if (this.pictureTools.pointing()) void this.tools.pointAt([x, z]).then((point) => this.pictureTools.pointed(point));
    else if (this.tools.tool() === 'walk') this.tools.nodes.update((nodes) => [...nodes, [x, z]]);
    else if (this.setPieces.putting()) void this.setPieces.putOnGround(x, z, event.shiftKey);
    else if (this.workspace.step() === 'set') this.selection.pick(undefined, event.shiftKey || event.ctrlKey);
  }

  protected zoom(event: WheelEvent): void {
    event.preventDefault();
    this.sheet.zoomAbout(event, event.deltaY / 100);
  }

  /** Shows everybody, all cameras, and what stands about them; a plan of nothing shows the middle. */
  protected showAll(): void {
    const things = this.pieces()
      .filter(({ acrossM, placement }) => acrossM < BACKGROUND_M || placement.subject)
      .map(({ at }) => at);
    const cameras = this.cameras().map(({ state }): PlanPoint => [state.positionM[0], state.positionM[2]]);
    const spots = [...things, ...cameras];
    this.sheet.show(spots.length > 0 ? spots : this.land());
  }

  /** The corners of everything, as wide as it is. */
  private land(): PlanPoint[] {
    const project = this.store.project();
    if (!project) return [];
    const corners = this.pieces().flatMap(({ placement }) => boxCornersAt(project, placement, this.contents.flicks()));
    return corners.map(([x, , z]): PlanPoint => [x, z]);
  }

  /** A project is first seen as the camera looked through sees it. */
  private fit(): void {
    const project = this.store.project();
    if (!project || !this.sheet.isLaidOut()) return;
    // What is first put into an empty set is looked at anew, and so is the first camera.
    const has = (all: object) => Object.keys(all).length > 0;
    const key = `${project.head.id} ${has(project.placements)} ${has(project.cameras)}`;
    if (key === this.fitted) return;
    this.fitted = key;
    untracked(() => this.showSeen());
  }

  /** Shows the camera looked through and whom it sees; everybody where there is none. */
  private showSeen(): void {
    const project = this.store.project();
    const state = this.viewpoint.throughState();
    const inFrame = (placement: Placement) =>
      project && state && subjectFraming(project, placement, state, this.contents.flicks())?.inFrame === true;
    const subjects = project ? subjectsIn(project).filter(inFrame) : [];
    if (!project || !state || subjects.length === 0) {
      this.showAll();
      return;
    }
    const spots = [state, ...subjects.map(({ id }) => placementAt(project, id, this.contents.flicks()))];
    this.sheet.show(
      spots.map(({ positionM }): PlanPoint => [positionM[0], positionM[2]]),
      ROOM_ABOUT,
    );
  }
}
