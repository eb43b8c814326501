import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { Panorama, Stereo } from '@arvex/core';
import { MOST_PARALLAX_SHARE, PANORAMA_DEFAULTS, parallaxShare, STEREO_DEFAULTS } from '@arvex/core';
import { Viewpoint } from '../../../session';
import { ChoiceField, LengthField, NumberField, Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

/** Pictures for two eyes, and pictures all round. */
@Component({
  selector: 'arvex-eyes-editor',
  imports: [ChoiceField, LengthField, MatCheckbox, NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './eyes-editor.html',
  styles: `
    input[type='color'] {
      width: 28px;
      height: 28px;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: var(--radius);
      background: none;
    }
    p {
      margin: 0 0 9px;
    }
  `,
})
export class EyesEditor extends OrderEditor {
  private readonly viewpoint = inject(Viewpoint);
  protected readonly seen = switchChoices<'flat' | Panorama['kind']>(['flat', 'sphere', 'cylinder', 'cube']);
  protected readonly cubes = switchChoices<Panorama['cube']>(['cross', 'strip', 'six'], { six: 'six files' });
  protected readonly eyes = switchChoices(['one', 'two'] as const, { one: 'one eye', two: 'two eyes' });
  protected readonly layouts: readonly { id: Stereo['layout']; name: string }[] = [
    { id: 'side-by-side', name: 'side by side' },
    { id: 'over-under', name: 'over and under' },
    { id: 'anaglyph', name: 'anaglyph' },
    { id: 'two-files', name: 'two files' },
  ];
  /** How far the eyes have to turn for what is nearest and farthest in this picture, and whether most people can. */
  protected readonly comfort = computed(() => {
    const [state, { stereo, panorama }] = [this.viewpoint.state(), this.order()];
    if (!stereo || panorama || !state) return undefined;
    const { actingMm } = state.lens;
    const share = (distanceM: number) => parallaxShare(stereo, actingMm, state.framing.used.widthMm, distanceM);
    // What of the room before the screen is still comfortable, and how much the far distance asks for.
    const nearest =
      (stereo.eyeDistanceMm * actingMm) /
      ((stereo.eyeDistanceMm * actingMm) / stereo.convergenceM +
        MOST_PARALLAX_SHARE * state.framing.used.widthMm * 1000);
    const far = share(Infinity);
    return {
      far: `Far away ${(far * 100).toFixed(1)} % of the width behind the screen${far > MOST_PARALLAX_SHARE ? ', more than most eyes take' : ''}.`,
      near: `Nothing should come nearer than ${nearest.toFixed(2)} m.`,
      strains: far > MOST_PARALLAX_SHARE,
    };
  });

  protected see(kind: 'flat' | Panorama['kind']): void {
    this.set({ panorama: kind === 'flat' ? null : { ...(this.order().panorama ?? PANORAMA_DEFAULTS), kind } });
  }

  protected setPanorama(change: Partial<Panorama>): void {
    const { panorama } = this.order();
    if (panorama) this.set({ panorama: { ...panorama, ...change } });
  }

  protected look(eyes: 'one' | 'two'): void {
    const focusM = this.viewpoint.state()?.focus.distanceM;
    const convergenceM =
      focusM !== undefined && Number.isFinite(focusM)
        ? Math.max(0.1, Number(focusM.toFixed(2)))
        : STEREO_DEFAULTS.convergenceM;
    this.set({ stereo: eyes === 'one' ? null : { ...STEREO_DEFAULTS, convergenceM } });
  }

  protected setStereo(change: Partial<Stereo>): void {
    const { stereo } = this.order();
    if (stereo) this.set({ stereo: { ...stereo, ...change } });
  }

  protected setColour(eye: 0 | 1, colour: string): void {
    const { stereo } = this.order();
    if (!stereo) return;
    const [left, right] = stereo.colours;
    this.setStereo({ colours: eye === 0 ? [colour, right] : [left, colour] });
  }
}
