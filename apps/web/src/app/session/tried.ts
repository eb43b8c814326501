import type { Signal } from '@angular/core';
import { computed, inject, Injectable, linkedSignal } from '@angular/core';
import type { ChannelValues, Edit, Project } from '@arvex/core';
import { CoreError, previewed } from '@arvex/core';
import { ProjectStore } from '../data';

/** Who tries looks and light mixes, which move nothing. */
export const LOOKS = 'looks';
const CUT = 'cut';

/** An edit as it would be made on a project; made anew on each project that it is looked at on. */
export type EditOf = (project: Project) => Edit;

/** What somebody tries out: any of it may be left out. */
export interface Shown {
  /** The camera that it is about: it is not seen, and cannot be kept, once that one is gone. */
  readonly cameraId?: string;
  /** Channel values in force over the keys of that camera. */
  readonly values?: ChannelValues | undefined;
  /** The variation that this camera is seen with. */
  readonly variationId?: string;
  /** Shown as it would be once it is made; where it cannot be made any more nothing of it is shown. */
  readonly edit?: EditOf | undefined;
}

/** A pose or lens that is tried on a camera with marks; kept only when it is marked. */
export interface TriedPose {
  readonly cameraId: string;
  readonly values: ChannelValues;
}

interface Entry {
  readonly owner: string;
  readonly shown: Shown;
  /** Part of a drag: what rests meanwhile waits for its end. */
  readonly dragged: boolean;
}

/** One owner's place in what is tried. */
export interface Trying {
  /** What this owner shows, for as long as the project and the camera it is about are there. */
  readonly shown: Signal<Shown | undefined>;
  /**
   * Shows something instead of what this owner showed before. A gesture stays with the camera that it began on: what it would show of
   * another one, because somebody went to that one meanwhile, is passed over until it has ended.
   */
  show(shown: Shown): void;
  /** Ends it. @returns what was shown last and may still be kept; nothing where its camera is gone. */
  end(): Shown | undefined;
}

/**
 * What is tried out and not kept yet: drags, poses, looks that somebody points at, the cut while it is pulled. Each has an owner, who
 * alone replaces and ends it; what began later lies over what began before. All of it ends when another project is opened.
 */
@Injectable({ providedIn: 'root' })
export class Tried {
  private readonly store = inject(ProjectStore);
  private readonly entries = linkedSignal<string | undefined, readonly Entry[]>({
    source: computed(() => this.store.project()?.head.id),
    computation: () => [],
  });
  private readonly standing = computed(() => {
    const project = this.store.project();
    return this.entries().filter(({ shown: { cameraId } }) => cameraId === undefined || project?.cameras[cameraId]);
  });

  /** Whether something is dragged. */
  readonly dragging = computed(() => this.standing().some(({ dragged }) => dragged));
  /** Whether what is dragged moves anything: a look that is tried does not. */
  readonly moving = computed(() =>
    this.standing().some(({ dragged, owner, shown }) => dragged && (owner !== LOOKS || shown.values !== undefined)),
  );

  private readonly lasting = this.as('pose', false);
  /** The pose that is tried until it is marked or let go. */
  readonly pose = computed<TriedPose | undefined>(() => {
    const { cameraId, values } = this.lasting.shown() ?? {};
    return cameraId !== undefined && values ? { cameraId, values } : undefined;
  });
  /** The variation that a camera is seen with for as long as somebody points at it. */
  readonly variation = this.as('variation', false);
  /** What is done to the cut before it is kept. */
  readonly cut = this.as(CUT, false);

  /** The project with what is tried on its cut. */
  readonly cutProject = computed(() => this.withEdits(this.standing().filter(({ owner }) => owner === CUT)));
  /** The project with what is tried on cameras and on things in the set. */
  readonly project = computed(() => this.withEdits(this.standing().filter(({ owner }) => owner !== CUT)));

  /** A place for an owner. @param dragged whether what it shows is part of a drag; it is when left out. */
  as(owner: string, dragged = true): Trying {
    return {
      shown: computed(() => this.standing().find((entry) => entry.owner === owner)?.shown),
      show: (shown) => {
        const all = this.entries();
        const before = all.find((entry) => entry.owner === owner);
        if (dragged && before && before.shown.cameraId !== shown.cameraId) return;
        const entry = { owner, shown, dragged };
        this.entries.set(before ? all.map((one) => (one === before ? entry : one)) : [...all, entry]);
      },
      end: () => {
        const last = this.standing().find((entry) => entry.owner === owner)?.shown;
        if (this.entries().some((entry) => entry.owner === owner)) {
          this.entries.update((all) => all.filter((entry) => entry.owner !== owner));
        }
        return last;
      },
    };
  }

  /** Tries values on a camera, with those that are tried on it already. */
  tryPose(cameraId: string, values: ChannelValues): void {
    this.lasting.show({ cameraId, values: { ...this.poseOf(cameraId), ...values } });
  }

  /** Lets the tried pose go. */
  letPoseGo(): void {
    this.lasting.end();
  }

  /** The pose that is tried on a camera. */
  poseOf(cameraId: string | undefined): ChannelValues | undefined {
    return this.pose()?.cameraId === cameraId ? this.pose()?.values : undefined;
  }

  /**
   * Channel values in force over a camera's move; those that began later win.
   * @param poses whether a tried pose is seen: it is not while something plays.
   */
  valuesOf(cameraId: string | undefined, poses = true): ChannelValues | undefined {
    const over = this.standing().filter(({ shown, dragged }) => shown.cameraId === cameraId && (dragged || poses));
    const values = over.flatMap(({ shown }) => (shown.values ? [shown.values] : []));
    return values.length > 0 ? values.reduce((all, one) => ({ ...all, ...one })) : undefined;
  }

  private withEdits(entries: readonly Entry[]): Project | undefined {
    const project = this.store.project();
    return project && entries.reduce((now, { shown }) => (shown.edit ? triedOn(now, shown.edit) : now), project);
  }
}

/** A project as an edit would leave it; as it is where what the edit is made on has gone meanwhile. */
function triedOn(project: Project, edit: EditOf): Project {
  try {
    return previewed(project, edit(project));
  } catch (error) {
    if (error instanceof CoreError) return project;
    throw error;
  }
}
