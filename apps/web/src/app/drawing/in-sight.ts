import type { Signal } from '@angular/core';
import { afterNextRender, DestroyRef, ElementRef, inject, signal } from '@angular/core';

/** Whether a component's element is where somebody can see it. What costs something and nobody sees need not be made. */
export function inSight(): Signal<boolean> {
  const host = inject<ElementRef<HTMLElement>>(ElementRef);
  const destroyed = inject(DestroyRef);
  const seen = signal(false);
  afterNextRender(() => {
    const observer = new IntersectionObserver((all) => seen.set(all.at(-1)?.isIntersecting ?? false));
    observer.observe(host.nativeElement);
    destroyed.onDestroy(() => observer.disconnect());
  });
  return seen.asReadonly();
}
