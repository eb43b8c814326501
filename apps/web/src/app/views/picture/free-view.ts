import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, viewChild } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Pose } from '@arvex/core';
import { deliveredWindow, paneWindow, rotationOf, slide, turnAbout, turned, windowShare } from '@arvex/core';
import type { Picked } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import { ProjectStore } from '../../data';
import type { ShownView } from '../../drawing';
import { Pictures } from '../../drawing';
import { Cameras } from '../../features/cameras';
import { SetPieces, StartPanel, Walk } from '../../features/set';
import { FreeCamera, Playhead, Selection, Viewpoint, Workspace } from '../../session';
import { ActionButton, IconButton } from '../../ui';
import { GroundGrid } from './ground-grid';
import { groundUnder } from './ground-under';
import { LookAbout } from './look-about';
import { PieceHandles } from './piece-handles';
import { RigOverlay } from './rig-overlay';

const MARGIN = 0.06;
const REST_SAMPLES = [4] as const;
/** What an arrow key turns, and slides. */
const KEY_TURN_DEG = 3;
const KEY_M = 0.25;

/** A free look at the set. The thin frame is what a camera made here would deliver. */
@Component({
  selector: 'arvex-free-view',
  imports: [ActionButton, GroundGrid, IconButton, LookAbout, MatIcon, MatTooltip, PieceHandles, RigOverlay, StartPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './free-view.html',
  styleUrl: './free-view.scss',
})
export class FreeView implements AfterViewInit, OnDestroy {
  private readonly store = inject(ProjectStore);
  private readonly freeCamera = inject(FreeCamera);
  protected readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  protected readonly cameras = inject(Cameras);
  protected readonly pieces = inject(SetPieces);
  protected readonly selection = inject(Selection);
  protected readonly walk = inject(Walk);
  private readonly pictures = inject(Pictures);
  private readonly playhead = inject(Playhead);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly pane = viewChild.required<ElementRef<HTMLElement>>('pane');
  protected readonly size = signal({ width: 0, height: 0 });
  private readonly aspect = computed(() => (this.size().height > 0 ? this.size().width / this.size().height : 0));
  private readonly looking = signal(false);
  private shownView: ShownView | undefined;
  private leave: () => void = () => undefined;
  private readonly observer = new ResizeObserver(() => this.measure());

  protected readonly frame = computed(() => {
    const state = this.freeCamera.state();
    if (!state || this.aspect() === 0) return undefined;
    const { x, y, width, height } = windowShare(deliveredWindow(state), paneWindow(state, this.aspect(), MARGIN));
    return { x: x * 100, y: y * 100, width: width * 100, height: height * 100 };
  });

  protected readonly view = computed(() => {
    const state = this.freeCamera.state();
    if (!state || this.aspect() === 0) return undefined;
    const atFlicks = this.playhead.seen()?.sceneFlicks ?? 0;
    return viewOf(state, atFlicks, paneWindow(state, this.aspect(), MARGIN), { aperture: undefined });
  });
  protected readonly shown = () => {
    const view = this.view();
    return view && { view, pose: this.freeCamera.pose() };
  };
  /** Things can be chosen and handled in the Set step. */
  protected readonly handling = computed(() => this.workspace.step() === 'set' && !this.walk.on());

  /** Nothing stands in the set, and no camera looks at it, yet; and whether it has any ground. */
  protected readonly nothing = computed(() => {
    const project = this.store.project();
    const upper = this.workspace.views().upper === 'free';
    return upper && project && Object.keys(project.placements).length + Object.keys(project.cameras).length === 0;
  });
  protected readonly groundless = computed(() => {
    const project = this.store.project();
    return project !== undefined && !Object.values(project.placements).some((one) => one.visible);
  });

  constructor() {
    effect(() => {
      const moving = this.looking() || this.playhead.playing() || this.walk.stepping();
      const isSeen = this.view() !== undefined;
      if (this.shownView) this.pictures.invalidate(this.shownView, moving && isSeen);
    });
  }

  ngAfterViewInit(): void {
    this.observer.observe(this.pane().nativeElement);
    this.measure();
    this.shownView = { canvas: this.canvas().nativeElement, samples: () => REST_SAMPLES, view: this.shown };
    this.leave = this.pictures.show(this.shownView);
  }

  ngOnDestroy(): void {
    this.leave();
    this.observer.disconnect();
    this.walk.on.set(false);
  }

  protected look(pose: Pose): void {
    this.looking.set(true);
    this.freeCamera.pose.set(pose);
  }

  /** Looking about by keys, while the view has the focus. */
  protected key(event: KeyboardEvent): void {
    if (event.target !== this.pane().nativeElement || this.walk.on() || event.ctrlKey || event.metaKey) return;
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    const pose = this.freeCamera.pose();
    if (way) {
      const [right = 0, up = 0] = way;
      const looked = turnAbout(pose, pose.positionM, right * KEY_TURN_DEG, up * KEY_TURN_DEG);
      this.freeCamera.pose.set(event.shiftKey ? slide(pose, right * KEY_M, up * KEY_M) : looked);
    } else if (event.key === 'PageUp' || event.key === 'PageDown') {
      const [dx, dy, dz] = turned([0, 0, -1], rotationOf(pose));
      const by = event.key === 'PageUp' ? KEY_M * 2 : -KEY_M * 2;
      const [x, y, z] = pose.positionM;
      this.freeCamera.pose.set({ ...pose, positionM: [x + dx * by, y + dy * by, z + dz * by] });
    } else return;
    event.preventDefault();
  }

  protected rest(): void {
    this.looking.set(false);
  }

  protected press({ event, picked }: { event: PointerEvent; picked: Picked | undefined }): void {
    if (!this.handling()) return;
    if (this.pieces.putting()) {
      const place = picked ?? groundUnder(event, this.pane().nativeElement, this.view());
      if (place) this.pieces.put(place, event.shiftKey);
      else this.pieces.noGround();
    } else this.pieces.clicked(picked?.placementId, event.shiftKey || event.ctrlKey);
  }

  private measure(): void {
    const { clientWidth: width, clientHeight: height } = this.pane().nativeElement;
    if (width !== this.size().width || height !== this.size().height) this.size.set({ width, height });
  }
}
