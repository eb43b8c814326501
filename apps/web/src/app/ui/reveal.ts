import { Directive, effect, ElementRef, inject, input, untracked } from '@angular/core';
import { Workspace } from '../session';

/** How long what was brought into sight glows, ms. */
const GLOW_MS = 1400;

/** A part of a bench that can be found: it comes into sight, takes the focus and glows for a moment when the workspace reveals it. */
@Directive({ selector: '[arvexReveal]' })
export class Reveal {
  private readonly workspace = inject(Workspace);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** By which it is revealed. */
  readonly arvexReveal = input.required<string | undefined>();

  constructor() {
    effect(() => {
      const part = this.arvexReveal();
      if (part === undefined || this.workspace.revealed() !== part) return;
      untracked(() => {
        this.workspace.revealed.set(undefined);
        this.show();
      });
    });
  }

  /** Once it is laid out: a card that opens pushes the others about first. */
  private show(): void {
    requestAnimationFrame(() => {
      this.element.scrollIntoView({ block: 'start' });
      (this.element.querySelector<HTMLElement>('input, .open, button') ?? this.element).focus();
      this.element.classList.add('glow');
      setTimeout(() => this.element.classList.remove('glow'), GLOW_MS);
    });
  }
}
