import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { LONGEST_SOUND_S } from '@arvex/core';
import { acceptOf } from '@arvex/interchange/tables';
import { Card, DurationField, IconButton, NameField, NumberField } from '../../../ui';
import { FilesIn } from '../../interchange';
import { SoundTracks } from '../sound/sound-tracks';
import { ShotBench } from '../shot-bench';

/** The sound under the cut: the piece in hand by its numbers, and bringing in more. */
@Component({
  selector: 'arvex-sound-card',
  imports: [Card, DurationField, IconButton, MatIcon, NameField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sound-card.html',
})
export class SoundCard {
  protected readonly bench = new ShotBench();
  protected readonly tracks = inject(SoundTracks);
  private readonly filesIn = inject(FilesIn);
  protected readonly taken = acceptOf('sound');
  protected readonly longest = LONGEST_SOUND_S;
  protected readonly piece = this.tracks.piece;
  protected readonly first = computed(() => this.bench.project()?.head.firstFrame ?? 0);
  protected readonly summary = computed(() => {
    const pieces = this.tracks.pieces();
    const [only] = pieces;
    if (!only) return 'none';
    return pieces.length === 1
      ? `${only.name} · ${only.muted ? 'muted' : `${only.gainDb} dB`}`
      : `${pieces.length} pieces`;
  });

  protected bring(chooser: HTMLInputElement): void {
    void this.filesIn.take([...(chooser.files ?? [])]);
    chooser.value = '';
  }
}
