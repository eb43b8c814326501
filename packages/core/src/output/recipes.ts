import * as z from 'zod';
import type { Project } from '../model';
import { NO_PICTURES } from './formats';
import { ofAnyForm, ORDER_DEFAULTS, renderOrderSchema } from './order';
import type { BurnIn, RenderOrder } from './order';

/** What a recipe renders: which shots or cameras is said anew in each project. */
const RECIPE_WHATS = ['cut', 'shots', 'cameras'] as const;

/** An order kept under a name, for every project. */
export const recipeSchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1).max(120),
  what: z.enum(RECIPE_WHATS),
  order: ofAnyForm(renderOrderSchema.omit({ what: true })),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** The recipe that an order is, under a name: what belongs to one project alone is left out. */
export function recipeFrom(order: RenderOrder, id: string, name: string): Recipe {
  const { what, ...rest } = order;
  const kinds = { cut: 'cut', still: 'cut', shots: 'shots', cameras: 'cameras', 'camera-still': 'cameras' } as const;
  const visible = { ...rest.visible, without: [] };
  const burnIns = rest.burnIns && { ...rest.burnIns, logoAssetId: null };
  return {
    id,
    name,
    what: kinds[what.kind],
    order: { ...rest, visible, burnIns, frames: { ...rest.frames, range: null } },
  };
}

/** A recipe's order for a sequence of a project: all that it has. */
export function orderByRecipe({ what, order }: Pick<Recipe, 'what' | 'order'>, sequenceId: string): RenderOrder {
  if (what === 'cut') return { ...order, what: { kind: 'cut', sequenceId } };
  if (what === 'shots') return { ...order, what: { kind: 'shots', sequenceId, shotIds: null } };
  return { ...order, what: { kind: 'cameras', cameraIds: null } };
}

/** An order in a project as it is now: what is gone from it is left out. Where nothing is left, all there are are meant. */
export function withoutGone(order: RenderOrder, project: Project): RenderOrder {
  const { what } = order;
  const visible = { ...order.visible, without: order.visible.without.filter((id) => project.placements[id]) };
  const left = (ids: readonly string[] | null, table: Readonly<Record<string, unknown>>) => {
    const there = ids?.filter((id) => table[id]) ?? [];
    // Whoever has chosen none means none.
    return there.length > 0 || ids?.length === 0 ? there : null;
  };
  if (what.kind === 'shots')
    return { ...order, visible, what: { ...what, shotIds: left(what.shotIds, project.shots) } };
  if (what.kind === 'cameras')
    return { ...order, visible, what: { ...what, cameraIds: left(what.cameraIds, project.cameras) } };
  return { ...order, visible };
}

const MOVIE_ONLY = { ...ORDER_DEFAULTS.formats, pictures: NO_PICTURES };

/** Over the picture's lower edge and in its upper corners, clear of the middle. */
const REVIEW_BURN_INS: readonly BurnIn[] = [
  { what: 'project', text: '', x: 0.02, y: 0.035 },
  { what: 'version', text: '', x: 0.98, y: 0.035 },
  { what: 'shot', text: '', x: 0.02, y: 0.965 },
  { what: 'lens', text: '', x: 0.3, y: 0.965 },
  { what: 'timecode', text: '', x: 0.7, y: 0.965 },
  { what: 'frame', text: '', x: 0.98, y: 0.965 },
];

/** Recipes that are there from the start. */
export const FIRST_RECIPES: readonly Recipe[] = [
  {
    id: '5f0f3c1e-6a55-4f0e-9b0a-0d6a4f3c1e01',
    name: 'quick preview',
    what: 'cut',
    order: {
      ...ORDER_DEFAULTS,
      takesKept: true,
      size: { kind: 'share', share: 1 / 3 },
      samples: 1,
      shutter: { blur: false, opens: 'as-set' },
      depthOfField: false,
      shading: 'lean',
      formats: { ...MOVIE_ONLY, movies: [{ codec: 'h264', by: { kind: 'quality', quality: 60 }, shortGroups: true }] },
      names: { ...ORDER_DEFAULTS.names, movie: '{project}_{part}_{version}_preview' },
    },
  },
  {
    id: '5f0f3c1e-6a55-4f0e-9b0a-0d6a4f3c1e02',
    name: 'review',
    what: 'cut',
    order: {
      ...ORDER_DEFAULTS,
      size: { kind: 'share', share: 0.5 },
      samples: 8,
      formats: { ...MOVIE_ONLY, movies: [{ codec: 'h264', by: { kind: 'quality', quality: 70 }, shortGroups: true }] },
      burnIns: { items: [...REVIEW_BURN_INS], size: 0.03, outside: false, logoAssetId: null },
      names: { ...ORDER_DEFAULTS.names, movie: '{project}_{part}_{version}_review' },
    },
  },
  {
    id: '5f0f3c1e-6a55-4f0e-9b0a-0d6a4f3c1e03',
    name: 'deliver',
    what: 'shots',
    order: {
      ...ORDER_DEFAULTS,
      samples: 32,
      frames: { range: null, step: 1, handles: true },
      oddSizes: 'refuse',
      formats: {
        ...ORDER_DEFAULTS.formats,
        movies: [{ codec: 'h264', by: { kind: 'quality', quality: 85 }, shortGroups: false }],
      },
    },
  },
];
