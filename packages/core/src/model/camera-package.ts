import * as z from 'zod';
import { lookSettingsSchema } from '../colour';
import { exposureSchema } from '../exposure';
import { blurCriterionSchema, deliverySchema, filmBackSchema, fitSchema, kitLensSchema } from '../optics';
import { cameraLensSchema } from './camera';
import { guidesSchema } from './guides';

/** A camera's settings without its place: what can be used again in any project. */
const packageSettingsSchema = z.object({
  filmBack: filmBackSchema,
  lens: cameraLensSchema,
  /** The lens of a kit that it is, so that other projects know it too. */
  kitLens: kitLensSchema.nullable(),
  fStop: z.number().min(0.5).max(256),
  criterion: blurCriterionSchema,
  exposure: exposureSchema,
  delivery: deliverySchema,
  fit: fitSchema,
  guides: guidesSchema,
  /** The look, without a file that it goes through: that stays in its project. Packages of before have none. */
  look: z.object({ name: z.string(), settings: lookSettingsSchema }).nullable().default(null),
});

export type PackageSettings = z.infer<typeof packageSettingsSchema>;

export const cameraPackageSchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1).max(120),
  settings: packageSettingsSchema,
});

export type CameraPackage = z.infer<typeof cameraPackageSchema>;
