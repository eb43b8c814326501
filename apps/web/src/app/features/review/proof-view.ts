import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { OrderDesk } from './order-desk';
import { Proof } from './proof';

/** One frame as it will leave, in the place of the picture. */
@Component({
  selector: 'arvex-proof',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (proof.picture(); as picture) {
      <img [src]="picture.address" [alt]="picture.fileName" [class.clear]="clear()" [class.drawing]="proof.drawing()" />
    }
    <div class="band">
      @if (proof.drawing() || !proof.picture()) {
        Drawing one frame as it will leave …
        <span class="num">{{ progress() }}</span>
      } @else if (proof.picture(); as picture) {
        As it will leave:
        <span class="num">
          {{ picture.fileName }} · {{ picture.widthPx }} × {{ picture.heightPx }} · {{ picture.seconds.toFixed(2) }} s
        </span>
        <a class="pill" [href]="picture.address" [attr.download]="picture.fileName + '.' + picture.ending">
          <mat-icon>download</mat-icon>Keep
        </a>
      }
      <button type="button" class="pill" (click)="proof.close()"><mat-icon>close</mat-icon>Back to the set</button>
    </div>
  `,
  styleUrl: './over-picture.scss',
})
export class ProofView {
  protected readonly proof = inject(Proof);
  private readonly desk = inject(OrderDesk);
  /** How long it takes so far, and about how long it will where one of its kind was drawn before. */
  protected readonly progress = computed(() => {
    const [taken, known] = [this.proof.takenS(), this.proof.fitting()?.seconds];
    if (taken === 0 && known === undefined) return '';
    return known === undefined ? `${taken} s` : `${taken} of about ${Math.max(1, Math.ceil(known))} s`;
  });
  protected readonly clear = computed(() => this.desk.order()?.background.kind === 'transparent');
}
