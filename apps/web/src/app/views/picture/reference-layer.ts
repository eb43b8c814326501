import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { CameraState, FilmWindow, Reference } from '@arvex/core';
import { deliveredWindow, windowShare } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Viewpoint } from '../../session';

const OBJECT_FIT: Readonly<Record<Reference['size'], string>> = { fit: 'contain', fill: 'cover', stretch: 'fill' };

/** Reference pictures of the camera looked through, laid in its delivery frame under or over the set. */
@Component({
  selector: 'arvex-reference-layer',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (one of shown(); track one.reference.id) {
      <img
        [src]="'/api/pictures/' + one.hash"
        alt=""
        [style.left.%]="frame().x"
        [style.top.%]="frame().y"
        [style.width.%]="frame().width"
        [style.height.%]="frame().height"
        [style.object-fit]="fits[one.reference.size]"
        [style.opacity]="one.reference.opacity"
        [style.mix-blend-mode]="one.reference.difference ? 'difference' : 'normal'"
      />
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      display: contents;
    }
    img {
      position: absolute;
      pointer-events: none;
    }
  `,
})
export class ReferenceLayer {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  readonly layer = input.required<Reference['layer']>();
  readonly state = input<CameraState>();
  readonly window = input<FilmWindow>();

  protected readonly fits = OBJECT_FIT;
  protected readonly shown = computed(() => {
    const assets = this.store.project()?.assets ?? {};
    return (this.viewpoint.camera()?.references ?? [])
      .filter((reference) => reference.shown && reference.layer === this.layer())
      .flatMap((reference) => {
        const file = assets[reference.assetId]?.file;
        return file?.kind === 'picture' ? [{ reference, hash: file.hash }] : [];
      });
  });
  protected readonly frame = computed(() => {
    const [state, window] = [this.state(), this.window()];
    if (!state || !window) return { x: 0, y: 0, width: 0, height: 0 };
    const { x, y, width, height } = windowShare(deliveredWindow(state), window);
    return { x: x * 100, y: y * 100, width: width * 100, height: height * 100 };
  });
}
