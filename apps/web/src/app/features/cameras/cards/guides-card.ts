import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import type { Division, Guides, SafeArea } from '@arvex/core';
import { DIVISIONS, GUIDE_ASPECTS, GUIDE_DEFAULTS, setGroup, setOwn } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Card, ChoiceField, IconButton, NumberField } from '../../../ui';
import { CameraBench } from '../camera-bench';

const TOGGLES = [
  { key: 'diagonals', name: 'diagonals' },
  { key: 'cross', name: 'cross' },
  { key: 'level', name: 'horizon' },
  { key: 'readOuts', name: 'read-outs' },
] as const;
const SAFE: readonly { id: SafeArea; name: string }[] = [
  { id: 'none', name: 'no safe areas' },
  { id: '2046', name: 'safe areas, 93 and 90 %' },
  { id: 'older', name: 'safe areas, 90 and 80 %' },
];

/** What is drawn over the picture to frame by: the project's, or this camera's own. */
@Component({
  selector: 'arvex-guides-card',
  imports: [IconButton, Card, ChoiceField, MatSliderModule, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './guides-card.html',
  styles: `
    mat-slider {
      flex: 1;
      min-width: 60px;
    }
    .aspects {
      flex-wrap: wrap;
      margin-bottom: 9px;

      button {
        flex: 1 0 52px;
      }
      .mask {
        text-decoration: underline;
      }
    }
    input[type='color'] {
      width: 28px;
      height: 28px;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: var(--radius);
      background: none;
    }
  `,
})
export class GuidesCard {
  protected readonly bench = new CameraBench();
  private readonly store = inject(ProjectStore);
  protected readonly divisions = Object.keys(DIVISIONS) as Division[];
  protected readonly toggles = TOGGLES;
  protected readonly safes = SAFE;
  protected readonly ownAspect = signal(2);
  protected readonly linePercent = signal(50);

  protected readonly own = computed(() => this.bench.camera()?.own.includes('guides') ?? false);
  protected readonly guides = computed<Guides>(() => this.bench.state()?.guides ?? GUIDE_DEFAULTS);
  /** The usual aspects, and those that were typed. */
  protected readonly aspects = computed(() => {
    const typed = this.guides().aspects.map(({ aspect }) => aspect);
    return [...new Set([...GUIDE_ASPECTS, ...typed])].map((aspect) => ({
      aspect,
      style: this.guides().aspects.find((one) => one.aspect === aspect)?.style,
    }));
  });
  protected readonly summary = computed(() => {
    const { mask, aspects, divisions, safe } = this.guides();
    const words = [
      ...aspects.map(({ aspect }) => aspect.toFixed(2)),
      `mask ${(mask.opacity * 100).toFixed(0)} %`,
      ...divisions,
      ...(safe === 'none' ? [] : ['safe']),
    ];
    return words.join(' · ');
  });

  protected setOwn(own: boolean): void {
    const [project, camera] = [this.store.project(), this.bench.camera()];
    if (project && camera) this.store.commit(setOwn(project, camera.id, 'guides', own));
  }

  protected set(what: string, parts: Partial<Guides>): void {
    const [project, camera] = [this.store.project(), this.bench.camera()];
    if (project && camera) this.store.commit(setGroup(project, camera.id, 'guides', what, parts));
  }

  protected setMask(parts: Partial<Guides['mask']>): void {
    this.set('Mask of the frame', { mask: { ...this.guides().mask, ...parts } });
  }

  protected toggle({ key, name }: (typeof TOGGLES)[number]): void {
    this.set(name, { [key]: !this.guides()[key] });
  }

  /** Off, outlined, masked, and off again. */
  protected cycle(aspect: number, style: 'line' | 'mask' | undefined): void {
    const others = this.guides().aspects.filter((one) => one.aspect !== aspect);
    const next = style === undefined ? ('line' as const) : style === 'line' ? ('mask' as const) : undefined;
    const name = `Guide ${aspect.toFixed(2)}`;
    this.set(name, { aspects: next === undefined ? others : [...others, { aspect, style: next }].slice(-12) });
  }

  protected toggleDivision(division: Division): void {
    const { divisions } = this.guides();
    const on = divisions.includes(division);
    this.set(division, { divisions: on ? divisions.filter((one) => one !== division) : [...divisions, division] });
  }

  protected addLine(axis: 'upright' | 'across'): void {
    const { lines } = this.guides();
    this.set('Guide line', { lines: [...lines, { axis, percent: this.linePercent() }].slice(-20) });
  }

  protected removeLine(index: number): void {
    this.set('Guide line', { lines: this.guides().lines.filter((_, i) => i !== index) });
  }
}
