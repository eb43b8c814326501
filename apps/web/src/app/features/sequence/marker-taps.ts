import { computed, inject, Injectable, signal } from '@angular/core';
import { addMarkers, flicksAtFrame, markersInOrder } from '@arvex/core';
import { ProjectStore } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import { CutEdits } from './cut-edits';
import { whenPlayingEnds } from './when-playing-ends';

/** Sets markers: at the playhead, or tapped while the cut plays; what was tapped is one edit when it stops. */
@Injectable({ providedIn: 'root' })
export class MarkerTaps {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly tapped = signal<readonly { readonly id: string; readonly frame: number }[]>([]);
  /** The sequence that they are tapped in: another one may be opened before they are kept. */
  private sequenceId = '';

  /** Markers of the open sequence, with those that are being tapped. */
  readonly markers = computed(() => {
    const project = this.store.project();
    if (!project) return [];
    const { rate } = project.head;
    const kept = markersInOrder(project, this.open.id());
    const tapped = this.tapped().map(({ id, frame }) => ({ id, name: '', atFlicks: flicksAtFrame(frame, rate) }));
    return [...kept, ...tapped];
  });

  constructor() {
    whenPlayingEnds(() => this.keep());
  }

  /** Whether anything was tapped that is no edit yet. */
  pending(): boolean {
    return this.tapped().length > 0;
  }

  /** Takes the last tap back, while the cut goes on playing. */
  takeBack(): void {
    this.tapped.update((tapped) => tapped.slice(0, -1));
  }

  /** A marker at the frame that is seen. */
  tap(): void {
    const seen = this.playhead.seen();
    if (seen?.mode !== 'cut' || this.tapped().some(({ frame }) => frame === seen.frame)) return;
    if (!this.pending()) this.sequenceId = this.open.id();
    this.tapped.update((tapped) => [...tapped, { id: crypto.randomUUID(), frame: seen.frame }]);
    if (!this.playhead.playing()) this.keep();
  }

  private keep(): void {
    const [tapped, rate] = [this.tapped(), this.store.project()?.head.rate];
    if (tapped.length === 0 || !rate) return;
    this.tapped.set([]);
    const markers = tapped.map(({ id, frame }) => ({ id, atFlicks: flicksAtFrame(frame, rate) }));
    this.edits.run((project) => addMarkers(project, this.sequenceId, markers));
  }
}
