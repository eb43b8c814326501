import type { CameraPackage, Recipe } from '@arvex/core';
import { cameraPackageSchema, recipeSchema } from '@arvex/core';
import type { NamedKind } from './store';

/** Camera settings. */
export const PACKAGES: NamedKind<CameraPackage> = {
  noun: 'package',
  table: 'packages',
  column: 'settings',
  kept: ({ settings }) => settings,
  thing: (named, settings) => cameraPackageSchema.parse({ ...named, settings }),
};

/** Orders of output. */
export const RECIPES: NamedKind<Recipe> = {
  noun: 'recipe',
  table: 'recipes',
  column: 'recipe',
  kept: ({ what, order }) => ({ what, order }),
  thing: (named, kept) => recipeSchema.parse({ ...named, ...(kept as object) }),
};
