import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { AngleSide, FilmBack, KitLens, LensExcess } from '@arvex/core';
import {
  angleOfViewDeg,
  farthestUsedMm,
  FILM_FORMATS,
  filmBackName,
  focalLengthForAngleMm,
  formatOf,
  lensExcesses,
  lensKitsOf,
} from '@arvex/core';
import { firstValueFrom } from 'rxjs';
import { fetched } from '../../../data';
import { AngleField, Card, ChoiceField, focalLengthText, NumberField, Switch } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { Focus } from '../focus';
import type { Keep } from '../lenses';
import { Lenses } from '../lenses';
import { Subjects } from '../subjects';
import { ChannelState } from '../channel-state';

const SIDES: readonly { id: AngleSide; name: string; label: string; sign: string }[] = [
  { id: 'horizontal', name: 'across', label: 'Angle of view', sign: '↔' },
  { id: 'vertical', name: 'upright', label: 'Angle upright', sign: '↕' },
  { id: 'diagonal', name: 'diagonal', label: 'Angle diagonal', sign: '⤢' },
];
const KEEPS: readonly { id: Keep; name: string }[] = [
  { id: 'lens', name: 'keep the lens' },
  { id: 'angle', name: 'keep the angle' },
  { id: 'size', name: 'keep the size' },
];
const CUSTOM = 'custom';
const EDIT_KITS = 'edit';

/** Lens and film back: focal length and angle of view are two ends of one thing. */
@Component({
  selector: 'arvex-lens-card',
  imports: [ChannelState, AngleField, Switch, Card, ChoiceField, MatIcon, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './lens-card.html',
  styleUrl: './lens-card.scss',
})
export class LensCard {
  protected readonly bench = new CameraBench();
  protected readonly lenses = inject(Lenses);
  private readonly dialog = inject(MatDialog);
  private readonly focus = inject(Focus);
  private readonly seen = inject(Subjects);
  protected readonly sides = SIDES;
  protected readonly keeps = KEEPS;
  protected readonly formats = [
    ...FILM_FORMATS.map(({ id, name, widthMm, heightMm, squeeze }) => ({
      id,
      name,
      detail: `${widthMm} × ${heightMm}${squeeze === 1 ? '' : ` ×${squeeze}`}`,
    })),
    { id: CUSTOM, name: 'Custom', detail: 'type its size' },
  ];
  private readonly chosenKit = signal<string | undefined>(undefined);

  private readonly kits = computed(() => {
    const project = this.bench.store.project();
    return project ? lensKitsOf(project) : [];
  });
  /** The kit whose lenses are at hand: the chosen one, else the one that the camera's lens is from. */
  protected readonly kit = computed(() => {
    const lensId = this.bench.camera()?.lens.lensId;
    const chosen = this.kits().find(({ name }) => name === this.chosenKit());
    return chosen ?? this.kits().find(({ lenses }) => lenses.some(({ id }) => id === lensId)) ?? this.kits()[0];
  });
  protected readonly kitChoices = computed(() => [
    ...this.kits().map(({ name, lenses }) => ({ id: name, name, detail: `${lenses.length} lenses` })),
    { id: EDIT_KITS, name: 'Edit lens kits …', detail: '' },
  ]);
  /** What the chosen way of keeping will do, said before it is done. */
  protected readonly keepDoes = computed(() => {
    const keep = this.lenses.keep();
    if (keep === 'lens') return 'A new film back shows more or less; the camera stays where it is.';
    if (keep === 'angle')
      return 'A new film back gets the focal length that sees the same angle; a new lens changes it.';
    const name = this.seen.about()?.name ?? 'what is in focus';
    return `The camera goes nearer or away, so that ${name} stays as large, and as sharp.`;
  });
  protected readonly back = computed(() => this.bench.camera()?.filmBack);
  protected readonly format = computed(() => {
    const back = this.back();
    return (back && formatOf(back)?.id) ?? CUSTOM;
  });
  protected readonly summary = computed(() => {
    const state = this.bench.state();
    if (!state) return '';
    return `${focalLengthText(state.lens.focalLengthMm)} · ${state.lens.parallelWidthM === null ? `${state.lens.horizontalDeg.toFixed(1)}°` : 'parallel'} · ${filmBackName(state.filmBack)}`;
  });
  /** What is asked of the lens beyond what it has; its circle is told on the card of its details. */
  protected readonly excesses = computed<LensExcess[]>(() => {
    const state = this.bench.state();
    if (!state?.lens.kitLens) return [];
    const { lens, focus } = state;
    return lensExcesses(state.lens.kitLens, {
      focalLengthMm: lens.focalLengthMm,
      fStop: focus.fStop,
      focusM: focus.distanceM,
      cornerMm: farthestUsedMm(state),
    });
  });
  protected angle(side: AngleSide): number {
    const state = this.bench.state();
    return state ? angleOfViewDeg(state.lens.actingMm, state.filmBack, side) : 0;
  }

  protected setAngle(side: AngleSide, degrees: number): void {
    const [back, state] = [this.back(), this.bench.state()];
    if (!back || !state) return;
    // A lens that breathes acts longer than it is: what is dialled is the angle seen.
    const acting = focalLengthForAngleMm(degrees, back, side);
    this.lenses.setFocalLength((acting * state.lens.focalLengthMm) / state.lens.actingMm);
  }

  protected chooseKit(name: string): void {
    if (name === EDIT_KITS) void this.editKits();
    else this.chosenKit.set(name);
  }

  protected isOn({ id, minMm, maxMm }: KitLens): boolean {
    const state = this.bench.state();
    if (!state) return false;
    const { lensId } = this.bench.camera()?.lens ?? { lensId: null };
    return lensId === null ? minMm === maxMm && state.lens.focalLengthMm === minMm : lensId === id;
  }

  protected chooseFormat(id: string): void {
    const format = FILM_FORMATS.find((one) => one.id === id);
    if (format) this.setBack({ widthMm: format.widthMm, heightMm: format.heightMm, squeeze: format.squeeze });
  }

  protected setBack(parts: Partial<FilmBack>): void {
    const back = this.back();
    if (back) this.lenses.setBack({ ...back, ...parts });
  }

  protected mend({ what, mend }: LensExcess): void {
    if (mend === undefined) this.bench.workspace.openCard.set('glass');
    else if (what === 'focal-length') this.lenses.setFocalLength(mend);
    else if (what === 'focus') this.focus.at(mend);
    else this.bench.setChannels('Within the lens', { fStop: mend });
  }

  protected mendText({ what, mend }: LensExcess): string {
    if (mend === undefined) return 'Look at its shift';
    return { 'focal-length': `Use ${mend} mm`, stop: `Use ƒ${mend}`, focus: `Focus at ${mend} m` }[what as 'stop'];
  }

  private async editKits(): Promise<void> {
    const { LensKitDialog } = await firstValueFrom(fetched(() => import('../dialogs/lens-kit-dialog')));
    this.dialog.open(LensKitDialog, { width: '860px', maxWidth: '94vw' });
  }
}
