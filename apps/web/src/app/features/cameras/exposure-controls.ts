import { computed, inject, Injectable } from '@angular/core';
import type {
  CameraState,
  ChannelValues,
  Edit,
  Exposure,
  ExposureEdit,
  ExposurePart,
  HeldExposure,
  Project,
} from '@arvex/core';
import { changeEv, changeExposure, EXPOSURE_PARTS, setGroup, setOwn } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Setting, Tried, Viewpoint } from '../../session';
import { ExposureScope } from './exposure-scope';

const PART_NAMES: Readonly<Record<ExposurePart, string>> = {
  stop: 'f-stop',
  shutter: 'shutter',
  iso: 'ISO',
  nd: 'ND',
};

/** A part that takes up less is not worth a word, stops. */
const TOLD_STOPS = 0.15;

/** Below this angle of shutter movement looks chopped. */
const LEAST_SHUTTER_DEG = 45;

const NOTHING_ELSE = { edits: [], values: {} };

/** Exposing the edited camera, where it gets its exposure from: its own, or the project's for all that follow it. */
@Injectable({ providedIn: 'root' })
export class ExposureControls {
  private readonly store = inject(ProjectStore);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly notices = inject(Notices);
  private readonly scope = inject(ExposureScope);
  private readonly trying = inject(Tried).as('exposure');

  /** The parts in the order in which they take a change of light up. */
  readonly absorbers = computed<readonly ExposurePart[]>(() => {
    const chosen = this.viewpoint.state()?.exposure.absorbers ?? [];
    return [...chosen, ...EXPOSURE_PARTS.filter((part) => !chosen.includes(part))];
  });

  /** Sets one part; while EV is held the absorbers take the change up. */
  change(what: string, part: ExposurePart, value: number): void {
    const state = this.viewpoint.state();
    if (state) this.apply(what, changeExposure(state, part, value));
  }

  /** Shows what moving EV by so many stops would give, without keeping it. */
  previewEv(state: CameraState, stops: number): ExposureEdit {
    const edit = changeEv(state, stops);
    this.preview(edit);
    return edit;
  }

  private preview({ exposure, fStop }: ExposureEdit): void {
    const camera = this.viewpoint.camera();
    if (!camera) return;
    const variationId = this.viewpoint.variationId();
    this.trying.show({
      cameraId: camera.id,
      ...(fStop !== undefined && { values: { fStop } }),
      edit: (now) => setGroup(now, camera.id, 'exposure', 'Exposure', exposure, variationId),
    });
  }

  /** Ends what {@link previewEv} shows. @returns whether it may still be kept: its camera is the one that is edited. */
  endPreview(): boolean {
    return this.viewpoint.isEdited(this.trying.end());
  }

  /**
   * Makes a change of exposure, with other edits and values in the same act, once it is known for whom. Where more than one part gave way,
   * nobody could take all of it up, or the shutter gets shorter than looks natural, that is said as it is made. @param told what is said
   * in any case.
   */
  apply(
    what: string,
    { exposure, fStop, held }: ExposureEdit,
    also: { readonly edits: readonly ((now: Project) => Edit)[]; readonly values: ChannelValues } = NOTHING_ELSE,
    told = '',
  ): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const said = told || this.warning(held, state);
    // A variation that is worn has its exposure by itself: it is nobody else's.
    const variationId = this.viewpoint.variationId();
    const worn = camera.variations[variationId ?? '']?.exposure;
    const before = worn ?? (camera.own.includes('exposure') ? camera.exposure : project.head.exposure);
    const changed = Object.entries(exposure).some(([key, value]) => before[key as keyof Exposure] !== value);
    const make = (own: boolean) => {
      const takeOwn = own ? [(now: Project) => setOwn(now, camera.id, 'exposure', true)] : [];
      const edits = changed
        ? [(now: Project) => setGroup(now, camera.id, 'exposure', what, exposure, variationId)]
        : [];
      const values = { ...also.values, ...(fStop !== undefined && { fStop }) };
      this.setting.setWith(camera.id, what, [...also.edits, ...takeOwn, ...edits], values);
      if (said) this.notices.done(said);
    };
    if (!changed || worn || camera.own.includes('exposure')) make(false);
    else this.scope.of(camera, what, (scope) => make(scope === 'own'));
  }

  /** Moves EV by so many stops, whether it is held or not, and says who took them up. */
  byStops(what: string, stops: number): void {
    const state = this.viewpoint.state();
    if (!state) return;
    const edit = changeEv(state, stops);
    this.apply(
      what,
      edit,
      NOTHING_ELSE,
      this.words(edit.held, { ...state, exposure: { ...state.exposure, hold: true } }),
    );
  }

  /** Changes how EV is held. */
  setHold(what: string, parts: Partial<Pick<Exposure, 'hold' | 'absorbers'>>): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (project && camera)
      this.store.commit(setGroup(project, camera.id, 'exposure', what, parts, this.viewpoint.variationId()));
  }

  /** Lets a part take a change of light up before the others. */
  absorbFirst(part: ExposurePart): void {
    const others = this.absorbers().filter((one) => one !== part);
    this.setHold(`${PART_NAMES[part]} takes light up first`, { absorbers: [part, ...others] });
  }

  /** Who takes a change up, by name. */
  nameOf(part: ExposurePart): string {
    return PART_NAMES[part];
  }

  /** What has to be known of a change at that moment; nothing where one part took it up. */
  private warning(held: HeldExposure, state: CameraState): string {
    const { absorbed, restStops, values } = held;
    const several = absorbed.filter(({ stops }) => Math.abs(stops) >= TOLD_STOPS).length > 1;
    const staccato = values.shutter < LEAST_SHUTTER_DEG && values.shutter < state.exposure.shutterAngleDeg;
    const taken = several || (state.exposure.hold && restStops !== 0) ? this.words(held, state) : '';
    const short = staccato
      ? `At ${values.shutter.toFixed(1)}° of shutter movement falls apart into single pictures.`
      : '';
    return [taken, short].filter(Boolean).join(' ');
  }

  /** What a change does to exposure, in words. */
  words({ absorbed, restStops }: HeldExposure, { exposure }: CameraState): string {
    const taken = absorbed.map(({ part, stops }) => `${PART_NAMES[part]} takes ${signedStops(stops)}`);
    const dark = restStops > 0 ? 'darker' : 'brighter';
    const rest = Math.abs(restStops) > 0.01 ? [`the picture is ${Math.abs(restStops).toFixed(1)} stops ${dark}`] : [];
    if (!exposure.hold && rest.length === 0) return 'Exposure stays.';
    const said = [...taken, ...rest].join(', ');
    return said === '' ? 'Exposure stays.' : `${said.charAt(0).toUpperCase()}${said.slice(1)}.`;
  }
}

function signedStops(stops: number): string {
  return `${stops > 0 ? '+' : '−'}${Math.abs(stops).toFixed(1)} stops`;
}
