import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, viewChild } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Camera } from '@arvex/core';
import { deliveredWindow, flicksPerFrame, marksInOrder, moveOf, poseOf, sceneOfMark, windowShare } from '@arvex/core';
import type { Picked } from '@arvex/stage';
import type { Subscription } from 'rxjs';
import { ProjectStore } from '../../data';
import type { ShownView } from '../../drawing';
import { Pictures, StageHost } from '../../drawing';
import { ClipSurvey, PictureTools, Sight, Steering } from '../../features/cameras';
import { Marks } from '../../features/moves';
import { SetPieces, StartPanel } from '../../features/set';
import type { Seen } from '../../session';
import { Playback, Playhead, Selection, Tried, Viewpoint, Workspace } from '../../session';
import { cameraColour } from '../../ui';
import { DisplayLegend } from './display-legend';
import { FrameOverlay } from './frame-overlay';
import { groundUnder } from './ground-under';
import { LookAbout } from './look-about';
import { PictureToolbar } from './picture-toolbar';
import { PieceHandles } from './piece-handles';
import { ReferenceLayer } from './reference-layer';
import { TwoPictures } from './two-pictures';
import { VariationWipe } from './variation-wipe';

/** Samples after which the resting picture is shown: for smooth edges and soft shadows, and for depth of field. */
const EDGE_SAMPLES = [8, 32, 64] as const;
const LENS_SAMPLES = [16, 64, 256] as const;
/** Where it is to be left as it is. */
const NO_SAMPLES = [] as const;

/** The picture: what the camera at the playhead sees, with its frame. Always true: it says what was drawn, not what will be. */
@Component({
  selector: 'arvex-picture',
  imports: [
    DisplayLegend,
    FrameOverlay,
    LookAbout,
    MatIcon,
    MatMenuModule,
    PictureToolbar,
    PieceHandles,
    ReferenceLayer,
    StartPanel,
    TwoPictures,
    VariationWipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './picture.html',
  styleUrl: './picture.scss',
})
export class Picture implements AfterViewInit, OnDestroy {
  private readonly store = inject(ProjectStore);
  protected readonly playhead = inject(Playhead);
  protected readonly playback = inject(Playback);
  protected readonly steering = inject(Steering);
  protected readonly viewpoint = inject(Viewpoint);
  private readonly tried = inject(Tried);
  protected readonly workspace = inject(Workspace);
  protected readonly host = inject(StageHost);
  private readonly pictures = inject(Pictures);
  protected readonly marks = inject(Marks);
  protected readonly pieces = inject(SetPieces);
  protected readonly selection = inject(Selection);
  protected readonly tools = inject(PictureTools);
  protected readonly survey = inject(ClipSurvey);
  protected readonly colour = cameraColour;

  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly pane = viewChild.required<ElementRef<HTMLElement>>('pane');
  private readonly seenLabel = viewChild.required<ElementRef<HTMLElement>>('seenLabel');
  private readonly sight = inject(Sight);
  protected readonly size = this.sight.size;
  protected readonly project = this.store.project;
  protected readonly seen = this.playhead.seen;
  protected readonly window = this.sight.window;
  protected readonly trial = this.tried.pose;
  protected readonly trialCamera = computed(() => this.project()?.cameras[this.trial()?.cameraId ?? '']);
  protected readonly trialHasMarks = computed(() => {
    const [project, camera] = [this.project(), this.trialCamera()];
    return project && camera ? (moveOf(project, camera.id)?.marks.length ?? 0) > 0 : false;
  });
  /** What is missing, and the way on, when there is no camera to look through. */
  protected readonly emptiness = computed(() => {
    const [project, seen] = [this.project(), this.seen()];
    if (!project || !seen || this.viewpoint.throughState()) return undefined;
    const isEmpty = Object.keys(project.placements).length + Object.keys(project.cameras).length === 0;
    // The free view over it asks the same.
    if (isEmpty && this.workspace.views().upper !== 'free') return 'nothing' as const;
    if (Object.keys(project.cameras).length === 0) return 'no-camera' as const;
    if (seen.mode === 'cut' && Object.keys(project.shots).length === 0) return 'no-shots' as const;
    if (seen.layers.length > 0 && !seen.shot) return undefined; // a gap, which is black
    if (seen.shot?.insideId != null) return undefined;
    return seen.shot ? ('no-camera-in-shot' as const) : ('no-shot' as const);
  });
  protected readonly markHere = computed(() => {
    const project = this.project();
    const flicks = this.seen()?.sceneFlicks;
    const id = this.trial()?.cameraId;
    if (!project || !id || flicks === undefined) return undefined;
    const [move, frame] = [moveOf(project, id), flicksPerFrame(project.head.rate)];
    return marksInOrder(move).find((mark) => Math.abs(sceneOfMark(move, mark) - flicks) <= frame / 2);
  });
  /** What the clip distances of the camera looked through cut in its frame, or what covers all of it. */
  protected readonly amiss = computed(() => {
    const seen = this.survey.seen();
    if (seen?.cameraId !== this.viewpoint.through()?.id) return undefined;
    if (seen?.covered) return { text: `Nothing but ${seen.covered.name} in frame.`, mend: 'Look at the place' };
    for (const side of ['near', 'far'] as const) {
      const thing = seen?.[side];
      if (thing !== undefined)
        return { text: `The ${side} clip cuts ${thing} inside the frame.`, mend: 'Move the clip' };
    }
    return undefined;
  });

  /** The camera whose picture is on the screen. */
  protected readonly drawn = signal<Camera | undefined>(undefined);
  /** Another one's picture is being drawn. */
  protected readonly coming = computed(() => {
    const through = this.viewpoint.through();
    return through !== undefined && this.drawn() !== undefined && this.drawn()?.id !== through.id ? through : undefined;
  });

  /** What is given up for the pace, in a word. */
  protected readonly given = computed(() => {
    const { share, shadows, lean } = this.pictures.effort();
    if (lean) return 'simpler light';
    if (!shadows) return 'shadows as they were';
    return share < 1 ? (share < 0.5 ? 'a third of the size' : 'half the size') : undefined;
  });

  /** The light group that is seen alone. */
  protected readonly soloed = computed(() => this.project()?.lightGroups[this.tools.soloGroup() ?? '']);

  private leave: () => void = () => undefined;
  private ticks: Subscription | undefined;
  private shown: ShownView | undefined;
  private readonly observer = new ResizeObserver(() => this.measure());

  constructor() {
    effect(() => {
      const isSeen = this.shownView() !== undefined;
      this.tools.fineAtRest();
      // Played frames come by themselves. Where there is nothing to see nothing moves either.
      if (!this.playhead.playing() && this.shown) this.pictures.invalidate(this.shown, isSeen && this.tried.dragging());
    });
  }

  /** Lets the pose go that is tried. */
  protected letPoseGo(): void {
    this.tried.letPoseGo();
  }

  ngAfterViewInit(): void {
    this.observer.observe(this.pane().nativeElement);
    this.measure();
    this.shown = {
      canvas: this.canvas().nativeElement,
      samples: () => this.samples(),
      groupsApart: true,
      view: () => (this.playhead.playing() ? this.sight.at(this.playback.comingFrame()) : this.sight.now()),
      drawn: (label) => this.say(label as Seen),
    };
    this.leave = this.pictures.show(this.shown);
    // Played frames go from the clock to the canvas, past change detection.
    this.ticks = this.playback.due$.subscribe((frame) => {
      if (this.sight.at(frame) && this.shown) this.pictures.invalidate(this.shown, true);
      else this.playback.arrive(frame); // nothing is seen there
    });
  }

  ngOnDestroy(): void {
    this.leave();
    this.ticks?.unsubscribe();
    this.observer.disconnect();
  }

  /**
   * Whether a click on the picture does something: in the steps that have the instruments it changes, else where a point is asked for or
   * a tool was taken.
   */
  protected readonly picking = computed(
    () => ['cameras', 'moves'].includes(this.workspace.step()) || this.tools.tool() !== 'focus',
  );

  /** A click on the picture: in Set it puts, chooses or attaches things; elsewhere the tool in hand does its work. */
  protected press({ event, picked }: { event: PointerEvent; picked: Picked | undefined }): void {
    if (this.workspace.step() === 'set') {
      if (!this.pieces.putting()) this.pieces.clicked(picked?.placementId, event.shiftKey || event.ctrlKey);
      else this.put(event, picked);
    } else if (this.picking()) this.tools.click(picked, this.inFrame(event));
  }

  private put(event: PointerEvent, picked: Picked | undefined): void {
    const place = picked ?? groundUnder(event, this.pane().nativeElement, this.shownView());
    if (place) this.pieces.put(place, event.shiftKey);
    else this.pieces.noGround();
  }

  /** A place of the pane as share of the delivered frame. */
  private inFrame({ clientX, clientY }: PointerEvent): [number, number] {
    const [state, window] = [this.viewpoint.throughState(), this.window()];
    const box = this.pane().nativeElement.getBoundingClientRect();
    if (!state || !window) return [0.5, 0.5];
    const { x, y, width, height } = windowShare(deliveredWindow(state), window);
    const [px, py] = [(clientX - box.left) / box.width, (clientY - box.top) / box.height];
    const inside = (value: number) => Math.max(0, Math.min(1, value));
    return [inside((px - x) / width), inside((py - y) / height)];
  }

  private samples(): readonly number[] {
    if (!this.tools.fineAtRest()) return NO_SAMPLES;
    const moves = (this.shownView()?.shutter.length ?? 0) > 0;
    return moves || this.sight.lensBlurs() ? LENS_SAMPLES : EDGE_SAMPLES;
  }

  private measure(): void {
    const { clientWidth: width, clientHeight: height } = this.pane().nativeElement;
    if (width !== this.size().width || height !== this.size().height) this.size.set({ width, height });
  }

  /** What is on the canvas, for what is drawn over it. */
  protected readonly shownView = computed(() => this.sight.now()?.view);

  /** Says which shot and camera are seen, in the moment in which their picture is on the screen. */
  private say(seen: Seen): void {
    const project = this.project();
    const camera = seen.cameraId === undefined ? undefined : project?.cameras[seen.cameraId];
    const plays = this.playhead.plays() === 'shot' ? 'alone' : 'the cut';
    const what = seen.mode === 'cut' ? `${seen.shot?.name ?? 'a gap'} · ${plays}` : 'camera alone';
    const element = this.seenLabel().nativeElement;
    element.textContent = `${what} · ${camera?.name ?? ''} · ${seen.frameNumber}`;
    element.dataset['frame'] = String(seen.frameNumber);
    if (this.drawn() !== camera) this.drawn.set(camera);
    this.playback.arrive(seen.frame);
  }

  protected readonly steered = () => {
    const state = this.viewpoint.throughState();
    const view = this.shownView();
    return state && view ? { view, pose: poseOf(state) } : undefined;
  };
}
