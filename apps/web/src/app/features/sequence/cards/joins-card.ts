import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import type { Entry, Fade } from '@arvex/core';
import { flicksFromSeconds, setEntry, setFadeOut } from '@arvex/core';
import { Card, Switch, switchChoices } from '../../../ui';
import { ShotBench } from '../shot-bench';
import { FadeFields } from './fade-fields';

/** How long a transition is that was just chosen, seconds. */
const USUAL_S = 0.5;
const BLACK = '#000000';

/** How the picture goes over to a shot, and whether it fades at its end. */
@Component({
  selector: 'arvex-joins-card',
  imports: [Card, FadeFields, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './joins-card.html',
})
export class JoinsCard {
  protected readonly bench = new ShotBench();
  protected readonly entries = switchChoices<Entry['kind']>(['cut', 'dissolve', 'fade'], { fade: 'fade in' });
  protected readonly ends = switchChoices(['none', 'fade'], { none: 'as it is', fade: 'fade out' });

  protected readonly entry = computed<Entry>(() => this.bench.shot()?.entry ?? { kind: 'cut' });
  protected readonly fadeOut = computed(() => this.bench.shot()?.fadeOut ?? null);
  protected readonly summary = computed(() => {
    const [entry, out] = [this.entry(), this.fadeOut()];
    const into = entry.kind === 'cut' ? 'cut' : `${entry.kind} ${this.bench.frames(entry.durationFlicks)} f`;
    return out ? `${into} · fade out ${this.bench.frames(out.durationFlicks)} f` : into;
  });

  protected chooseEntry(kind: Entry['kind']): void {
    const before = this.entry();
    const shared = before.kind === 'cut' ? { durationFlicks: this.usual(), ease: 0 } : before;
    const { durationFlicks, ease } = shared;
    if (kind === 'cut') this.setEntry({ kind });
    else if (kind === 'dissolve') this.setEntry({ kind, durationFlicks, ease, place: 'centred' });
    else this.setEntry({ kind, durationFlicks, ease, place: 'after', colour: BLACK });
  }

  protected changeEntry(parts: Partial<Fade>): void {
    const entry = this.entry();
    if (entry.kind !== 'cut') this.setEntry({ ...entry, ...parts });
  }

  protected chooseEnd(kind: 'none' | 'fade'): void {
    this.setFade(kind === 'none' ? null : { durationFlicks: this.usual(), ease: 0, place: 'before', colour: BLACK });
  }

  protected changeFade(parts: Partial<Fade>): void {
    const fade = this.fadeOut();
    if (fade) this.setFade({ ...fade, ...parts });
  }

  private setEntry(entry: Entry): void {
    this.bench.edit((project, id) => setEntry(project, id, entry));
  }

  private setFade(fade: Fade | null): void {
    this.bench.edit((project, id) => setFadeOut(project, id, fade));
  }

  /** Half a second, on whole frames, and no longer than the shot. */
  private usual(): number {
    const frames = Math.min(this.bench.placed()?.frameCount ?? 1, this.bench.frames(flicksFromSeconds(USUAL_S)));
    return this.bench.flicks(Math.max(1, frames));
  }
}
