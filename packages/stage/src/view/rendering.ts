import type { RenderOrder, Shading } from '@arvex/core';

/** What lies behind the set: its sky, a colour as it is shown (sRGB, 0 to 1), or nothing. */
type Backdrop =
  | { readonly kind: 'sky' }
  | { readonly kind: 'colour'; readonly rgb: readonly [number, number, number] }
  | { readonly kind: 'clear' };

/** How a picture is drawn that leaves the building; one at work is drawn in full, with its look, before the sky. */
export interface Rendering {
  readonly shading: Shading;
  /** Without it light is shown as it is: no shoulder, no darker edges. */
  readonly look: boolean;
  readonly backdrop: Backdrop;
  /** The ground is left out but for what it loses by the things that stand on it, as alpha. */
  readonly catchesShadow: boolean;
  readonly lampBodies: boolean;
}

export const AS_AT_WORK: Rendering = {
  shading: 'full',
  look: true,
  backdrop: { kind: 'sky' },
  catchesShadow: false,
  lampBodies: true,
};

/** What an order says of how pictures are drawn. */
export function renderingOf({ shading, look, background, visible }: RenderOrder): Rendering {
  const drawn = shading === 'lines' || shading === 'depth';
  return {
    shading,
    // Lines and depth are no light: they have no look.
    look: look && !drawn,
    backdrop:
      background.kind === 'sky'
        ? { kind: 'sky' }
        : background.kind === 'colour'
          ? { kind: 'colour', rgb: shares(background.colour) }
          : { kind: 'clear' },
    catchesShadow: background.kind === 'transparent' && background.shadow,
    lampBodies: visible.lampBodies,
  };
}

/** `#rrggbb` as three shares. */
function shares(hex: string): readonly [number, number, number] {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255);
  return [r, g, b];
}
