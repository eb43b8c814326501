import { computed, inject, Injectable, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { Dressed, Edit, Look, LookChannel, LookFor, LookSettings, Project, Wearers } from '@arvex/core';
import {
  composed,
  duplicateVariation,
  isLookChannel,
  LOOK_DEFAULTS,
  lookIdOf,
  moveOf,
  othersWearing,
  settingsOf,
  setLook,
  setValues,
  wearVariation,
  wornId,
  wornVariation,
} from '@arvex/core';
import { firstValueFrom } from 'rxjs';
import { fetched, ProjectStore } from '../../data';
import { LOOKS, Playhead, Setting, Tried, Viewpoint } from '../../session';

/** Changed values of a look. */
export type LookParts = Partial<LookSettings>;

const NOBODY: Wearers = { project: false, cameras: [], variations: [], count: 0 };

/** The look of the edited camera: what it is, who else wears it, and how it is changed. */
@Injectable({ providedIn: 'root' })
export class Looks {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);
  private readonly dialog = inject(MatDialog);
  private readonly trying = inject(Tried).as(LOOKS);
  /** Cameras for which somebody said that a shared look is to be changed for all. */
  private readonly forAll = new Set<string>();
  /** The look that a preview makes, where there is none yet. */
  private readonly previewId = crypto.randomUUID();

  /** The edited camera and the variation it is seen with. */
  readonly dressed = computed<Dressed | undefined>(() => {
    const camera = this.viewpoint.camera();
    return camera && { cameraId: camera.id, variationId: this.viewpoint.variationId() };
  });
  /** The look it wears, by name; nothing where that is one which leaves everything as it is. */
  readonly look = computed<Look | undefined>(() => {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return undefined;
    return project.looks[lookIdOf(project, camera, wornVariation(camera, this.viewpoint.variationId())) ?? ''];
  });
  /** The variation that a change of look or light mix changes, by name; nothing where it is the camera as it is. */
  readonly changes = computed(() => {
    const camera = this.viewpoint.camera();
    return camera && wornVariation(camera, this.viewpoint.variationId())?.name;
  });
  /** A variation that was kept of another one just now: the first change of it asks whether it is meant. */
  readonly fresh = signal<string | undefined>(undefined);
  /** What of it is set: what a drag does to it, and what its keys make of it at the playhead. */
  readonly settings = computed<LookSettings>(() => this.viewpoint.state()?.look ?? LOOK_DEFAULTS);
  /** Who else is changed with it. */
  readonly others = computed<Wearers>(() => {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    return project && camera ? othersWearing(project, camera, this.viewpoint.variationId()) : NOBODY;
  });
  /** Whether the camera follows the project's look. */
  readonly follows = computed(() => {
    const camera = this.viewpoint.camera();
    return (
      camera !== undefined &&
      !camera.own.includes('look') &&
      !wornVariation(camera, this.viewpoint.variationId())?.lookId
    );
  });

  /** Shows a change while it is dragged. */
  preview(parts: LookParts, channel?: LookChannel, value?: number): void {
    const [project, dressed] = [this.store.project(), this.dressed()];
    if (!project || !dressed) return;
    if (channel !== undefined && value !== undefined && this.isKeyed(channel)) {
      this.trying.show({ cameraId: dressed.cameraId, values: { [channel]: value } });
      return;
    }
    this.trying.show({
      cameraId: dressed.cameraId,
      edit: (now) => setLook(now, dressed, 'Look', parts, this.previewId),
    });
  }

  /** Whether what is dragged, if anything is, is about this camera: another one may be edited since it began. */
  private isOf({ cameraId }: Dressed): boolean {
    return (this.trying.shown()?.cameraId ?? cameraId) === cameraId;
  }

  endPreview(): void {
    this.trying.end();
  }

  /** Changes the look, once it is known for whom. What is keyed gets a key at the playhead. */
  set(what: string, parts: LookParts, channel?: LookChannel, value?: number): void {
    const [project, dressed] = [this.store.project(), this.dressed()];
    if (!project || !dressed || !this.isOf(dressed)) return this.endPreview();
    if (
      channel !== undefined &&
      value !== undefined &&
      (this.isKeyed(channel) || (this.setting.autoKey() && !this.holdsLook()))
    ) {
      const how = { autoKey: true, atFlicks: this.playhead.seen()?.sceneFlicks ?? 0 };
      const { edit } = setValues(project, dressed.cameraId, what, { [channel]: value }, how);
      this.commit({ ...edit, name: `Key: ${what}` });
      return;
    }
    void this.mayChange(dressed).then(async (meant) => {
      const whom = meant && (await this.whom(what));
      const now = this.store.project();
      if (whom && now?.cameras[dressed.cameraId])
        this.commit(setLook(now, meant, what, parts, crypto.randomUUID(), whom));
      else this.endPreview();
    });
  }

  /** Gives the camera a copy of the look it shares. */
  takeCopy(): void {
    const [project, dressed] = [this.store.project(), this.dressed()];
    if (project && dressed) this.commit(setLook(project, dressed, 'Copy', {}, crypto.randomUUID(), 'alone'));
  }

  /** Does something with the edited camera as it is dressed. */
  edit(make: (project: Project, dressed: Dressed) => Edit): boolean {
    const [project, dressed] = [this.store.project(), this.dressed()];
    return project !== undefined && dressed !== undefined && this.commit(make(project, dressed));
  }

  /** Several edits as one act. */
  editAll(what: string, make: (dressed: Dressed) => readonly ((project: Project) => Edit)[]): boolean {
    const dressed = this.dressed();
    return dressed !== undefined && this.edit((project) => composed(project, what, make(dressed)));
  }

  /** What of the look is set, without what is only tried. */
  kept(): LookSettings {
    return settingsOf(this.look());
  }

  /** Whether keys hold a value: a variation's own look wins over them. */
  isKeyed(channel: LookChannel): boolean {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (this.holdsLook()) return false;
    const curve = project && camera && isLookChannel(channel) ? moveOf(project, camera.id)?.curves[channel] : undefined;
    return (curve?.length ?? 0) > 0;
  }

  /** Whether a variation is seen that has a look of its own. */
  private holdsLook(): boolean {
    const camera = this.viewpoint.camera();
    return camera !== undefined && wornVariation(camera, this.viewpoint.variationId())?.lookId != null;
  }

  private commit(edit: Edit): boolean {
    const done = edit.operations.length > 0 && this.store.commit(edit);
    this.endPreview();
    return done;
  }

  /**
   * Whether what a camera is seen with may be changed: of a variation that was kept just now it is asked whether that one is meant, or
   * another one is to begin from it. @returns the camera as it is dressed then; nothing where nobody wants the change any more.
   */
  async mayChange(dressed: Dressed): Promise<Dressed | undefined> {
    const fresh = this.fresh();
    const camera = this.store.project()?.cameras[dressed.cameraId];
    if (!camera || fresh === undefined || wornId(camera, dressed.variationId) !== fresh) return dressed;
    const { KeptVariationDialog } = await firstValueFrom(fetched(() => import('./dialogs/kept-variation-dialog')));
    const data = { name: camera.variations[fresh]?.name ?? '' };
    const asked = this.dialog.open<unknown, unknown, 'change' | 'begin'>(KeptVariationDialog, { width: '440px', data });
    const answer = await firstValueFrom(asked.afterClosed());
    if (answer) this.fresh.set(undefined);
    if (answer !== 'begin') return answer && dressed;
    const now = this.store.project();
    if (!now?.cameras[dressed.cameraId]?.variations[fresh]) return undefined;
    const ids = { variation: crypto.randomUUID(), look: crypto.randomUUID() };
    const edit = composed(now, `Begin a variation from ${data.name}`, [
      (project) => duplicateVariation(project, dressed.cameraId, fresh, ids),
      (project) => wearVariation(project, dressed.cameraId, ids.variation),
    ]);
    return this.store.commit(edit) ? { ...dressed, variationId: ids.variation } : undefined;
  }

  /** For whom a change of a shared look is meant: asked once for each camera. */
  private async whom(what: string): Promise<LookFor | undefined> {
    const [camera, others] = [this.viewpoint.camera(), this.others()];
    if (!camera || others.count === 0 || this.forAll.has(camera.id)) return 'all';
    const { LookScopeDialog } = await firstValueFrom(fetched(() => import('./dialogs/look-scope-dialog')));
    const data = { name: camera.name, look: this.look()?.name, others, what };
    const asked = this.dialog.open<unknown, unknown, LookFor>(LookScopeDialog, { width: '480px', data });
    const whom = await firstValueFrom(asked.afterClosed());
    if (whom === 'all') this.forAll.add(camera.id);
    return whom;
  }
}
