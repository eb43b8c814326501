import { computed, inject, Injectable, signal } from '@angular/core';
import type { Camera, CameraPart, CameraState, Channel, ChannelValues, PlacementParts, Pose } from '@arvex/core';
import {
  CAMERA_DEFAULTS,
  cameraAt,
  channelValuesAt,
  FIRST_REVISION,
  keyChannels,
  ownValues,
  markChannels,
  moveOf,
  poseSchema,
  resolveCamera,
  restingParts,
  setCamera,
  STEPS,
} from '@arvex/core';
import * as z from 'zod';
import { Playhead } from './playhead';
import { ProjectStore } from '../data';
import { remembered } from './remembered';
import type { Preview, Seen, Trial } from './seen';

/** Shares of the work area: the picture's height, and the bench's width in pixels. */
const layoutSchema = z.object({ picture: z.number().min(0.3).max(0.85), bench: z.number().min(280).max(560) });

/** What a view can show: what the camera sees, the floor from above, a free look, all cameras side by side, curves. */
export const VIEW_KINDS = ['picture', 'plan', 'free', 'cameras', 'graph', 'table'] as const;
export type ViewKind = (typeof VIEW_KINDS)[number];
const viewsSchema = z.object({ upper: z.enum(VIEW_KINDS), lower: z.enum(VIEW_KINDS) });
type Views = z.infer<typeof viewsSchema>;

/** Cards of the Cameras bench: one is open wide at a time. */
export type BenchCard = CameraPart | 'glass' | 'reference' | 'package' | MoveCard;

/** Cards of the Moves bench. */
export type MoveCard = 'rig' | 'hand' | 'add-move' | 'comfort' | 'timing' | 'rack';

/** Id of the camera that stands for the free view; it belongs to no project. */
const FREE_VIEW_ID = 'free-view';
const FREE_POSE: Pose = { positionM: [-34, 14, 30], panDeg: 52, tiltDeg: -14, rollDeg: 0 };

/** What is open and how it is looked at. Nothing here belongs to the project. */
@Injectable({ providedIn: 'root' })
export class Viewing {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);

  readonly step = remembered('step', z.enum(STEPS), 'cameras');
  /** What the two views show; never the same thing twice. */
  readonly views = remembered('views', viewsSchema, { upper: 'picture', lower: 'plan' });
  readonly theme = remembered('theme', z.enum(['dark', 'light']), 'dark');
  readonly surround = remembered('surround', z.number().min(0).max(128), 43);
  readonly layout = remembered('layout', layoutSchema, { picture: 0.68, bench: 336 });
  readonly freePose = remembered('free-pose', poseSchema, FREE_POSE);
  readonly benchOpen = signal(false);
  /** The card of the Cameras bench that is open wide. */
  readonly openCard = signal<BenchCard | undefined>('lens');
  /** Whether everything that is set becomes a key at the playhead. */
  readonly autoKey = signal(false);
  /** Whether drags in the picture move the camera that is looked through. */
  readonly steering = signal(false);
  readonly trial = signal<Trial | undefined>(undefined);
  /** What a drag shows before it ends and becomes a change. */
  readonly preview = signal<Preview | undefined>(undefined);

  /** What a drag does to things in the set before it ends. */
  readonly piecePreview = signal<Readonly<Record<string, PlacementParts>> | undefined>(undefined);

  private readonly pieced = computed(() => {
    const [project, pieces] = [this.store.project(), this.piecePreview()];
    if (!project || !pieces) return project;
    const placements = { ...project.placements };
    for (const [id, parts] of Object.entries(pieces)) {
      const placement = placements[id];
      if (placement) placements[id] = { ...placement, ...parts };
    }
    return { ...project, placements };
  });

  /** The project as it is drawn: with what a drag is doing to a camera or to things in the set. */
  readonly drawnProject = computed(() => {
    const [project, preview] = [this.pieced(), this.preview()];
    if (!project || (!preview?.parts && !preview?.head)) return project;
    const camera = project.cameras[preview.cameraId];
    const head = preview.head ? { ...project.head, ...preview.head } : project.head;
    const cameras =
      camera && preview.parts ? { ...project.cameras, [camera.id]: { ...camera, ...preview.parts } } : project.cameras;
    return { ...project, head, cameras };
  });

  /** Whether a view is shown anywhere. */
  shows(view: ViewKind): boolean {
    const { upper, lower } = this.views();
    return upper === view || lower === view;
  }

  /** Shows something in one of the two views; what it shows there elsewhere, the other one takes over. */
  show(view: ViewKind, where: 'upper' | 'lower' = 'lower'): void {
    this.views.update((views) => {
      const other = where === 'upper' ? 'lower' : 'upper';
      if (views[where] === view) return views;
      const rest = views[other] === view ? views[where] : views[other];
      return { [where]: view, [other]: rest } as Views;
    });
  }

  swapViews(): void {
    this.views.update(({ upper, lower }) => ({ upper: lower, lower: upper }));
  }

  /** Channel values in force over a camera's move: a trial, then what a drag is doing. */
  private override(cameraId: string | undefined): ChannelValues | undefined {
    const [trial, preview] = [this.playhead.playing() ? undefined : this.trial(), this.preview()];
    const tried = trial?.cameraId === cameraId ? trial?.values : undefined;
    return preview?.values && preview.cameraId === cameraId ? { ...tried, ...preview.values } : tried;
  }

  /** The camera that is edited whatever is looked through, once somebody has pinned it on purpose. */
  readonly pinned = signal<string | undefined>(undefined);

  /** The camera looked through. */
  readonly through = computed<Camera | undefined>(() => {
    const id = this.playhead.seen()?.cameraId;
    return id === undefined ? undefined : this.store.project()?.cameras[id];
  });

  /** The camera looked through, resolved at the playhead. A trial is seen while nothing plays. */
  readonly throughState = computed<CameraState | undefined>(() => {
    const seen = this.playhead.seen();
    return seen && this.stateSeen(seen);
  });

  /** The camera that is edited: the one looked through, unless another is pinned. */
  readonly camera = computed<Camera | undefined>(() => {
    const pinned = this.store.project()?.cameras[this.pinned() ?? ''];
    return pinned ?? this.through();
  });

  /** The camera that is edited, resolved at the playhead. */
  readonly state = computed<CameraState | undefined>(() => {
    const camera = this.camera();
    return camera && this.stateOf(camera.id);
  });

  /** Whether one camera is looked through while another is edited. */
  readonly apart = computed(() => {
    const [camera, through] = [this.camera(), this.through()];
    return camera !== undefined && through !== undefined && camera.id !== through.id;
  });

  /** The state of the camera that is seen at some place of the playhead. */
  stateSeen(seen: Seen): CameraState | undefined {
    const project = this.drawnProject();
    if (!project || seen.cameraId === undefined) return undefined;
    return cameraAt(project, seen.cameraId, seen.sceneFlicks, this.override(seen.cameraId));
  }

  /** The free view as a camera of its own: default lens, exposed like the camera looked through. */
  readonly freeState = computed<CameraState | undefined>(() => {
    const project = this.store.project();
    if (!project) return undefined;
    const through = this.throughState();
    const { exposure, focus } = through ?? CAMERA_DEFAULTS;
    const { hold, absorbers, iso, ndStops, shutterAngleDeg } = exposure;
    const camera: Camera = {
      ...{ ...CAMERA_DEFAULTS, id: FREE_VIEW_ID, revision: FIRST_REVISION, number: 1, name: 'Free view' },
      pose: this.freePose(),
      focus: { ...CAMERA_DEFAULTS.focus, distanceM: focus.distanceM, fStop: focus.fStop },
      exposure: { hold, absorbers, iso, ndStops, shutterAngleDeg },
      lightMix: through?.lightMix ?? {},
      own: ['exposure', 'lightMix'],
    };
    return resolveCamera(
      camera,
      channelValuesAt(camera, undefined, 0),
      project,
      this.playhead.seen()?.sceneFlicks ?? 0,
    );
  });

  /** State of any camera at the playhead's scene time. */
  stateOf(cameraId: string): CameraState | undefined {
    const [project, seen] = [this.drawnProject(), this.playhead.seen()];
    if (!project || !seen || !project.cameras[cameraId]) return undefined;
    return cameraAt(project, cameraId, seen.sceneFlicks, this.override(cameraId));
  }

  /** State of a camera at a scene time as its move has it, without trials. */
  stateAt(cameraId: string, flicks: number): CameraState | undefined {
    const project = this.drawnProject();
    return project?.cameras[cameraId] && cameraAt(project, cameraId, flicks);
  }

  /** Values of the world (place, pan, tilt, roll) as the numbers of a camera's rig; others as they are. */
  ownValues(cameraId: string, values: ChannelValues): ChannelValues {
    const [project, seen] = [this.store.project(), this.playhead.seen()];
    if (!project?.cameras[cameraId]) return values;
    return ownValues(project, cameraId, values, seen?.sceneFlicks ?? 0, this.trialOf(cameraId));
  }

  /** Shows values without keeping them, while something is dragged. */
  previewChannels(cameraId: string, values: ChannelValues): void {
    this.preview.set({ cameraId, values: this.ownValues(cameraId, values) });
  }

  /**
   * Sets pose or lens of a camera, place and turn as in the world. With automatic keying every value becomes a key here and now.
   * Else it is kept at once where nothing moves it, and tried out, kept only by marking, where keys do: so nobody
   * destroys a composed view by looking about.
   */
  setChannels(cameraId: string, what: string, values: ChannelValues): boolean {
    return this.setNumbers(cameraId, what, this.ownValues(cameraId, values));
  }

  /** As {@link setChannels}, with the numbers of the camera's own rig and head. */
  setNumbers(cameraId: string, what: string, values: ChannelValues): boolean {
    const [project, seen] = [this.store.project(), this.playhead.seen()];
    const camera = project?.cameras[cameraId];
    if (!project || !camera) return false;
    const move = moveOf(project, cameraId);
    if (this.autoKey()) {
      const at = { moveId: move?.id ?? crypto.randomUUID(), atFlicks: seen?.sceneFlicks ?? 0 };
      return this.store.commit(keyChannels(project, cameraId, values, at, `Key: ${what}`));
    }
    const moving = (channel: Channel) =>
      move !== undefined &&
      (!!move.curves[channel] ||
        (move.marks.length > 0 && (markChannels(camera) as readonly Channel[]).includes(channel)));
    const [tried, kept] = [{}, {}] as [Partial<Record<Channel, number>>, Partial<Record<Channel, number>>];
    for (const [channel, value] of Object.entries(values) as [Channel, number][]) {
      (moving(channel) ? tried : kept)[channel] = value;
    }
    if (Object.keys(tried).length > 0) {
      this.playhead.stop();
      this.trial.set({ cameraId, values: { ...this.trialOf(cameraId), ...tried } });
    }
    const parts = restingParts(camera, kept);
    if (Object.keys(parts).length === 0) return Object.keys(tried).length > 0;
    return this.store.commit(setCamera(project, cameraId, what, parts));
  }

  private trialOf(cameraId: string): ChannelValues | undefined {
    return this.trial()?.cameraId === cameraId ? this.trial()?.values : undefined;
  }

  /** Sets where a camera stands and looks, as {@link setChannels}. */
  setPose(cameraId: string, what: string, pose: Pose): boolean {
    return this.setChannels(cameraId, what, worldValues(pose));
  }
}

/** A pose as channel values of the world. */
export function worldValues({ positionM, panDeg, tiltDeg, rollDeg }: Pose): ChannelValues {
  const [positionX, positionY, positionZ] = positionM;
  return { positionX, positionY, positionZ, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}

export { poseOf } from '@arvex/core';
