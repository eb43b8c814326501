import * as z from 'zod';
import { exposureSchema } from '../exposure';
import { lightMixSchema } from '../light';
import { id, name, order } from './fields';

/** Another way to light one camera: a look, a light mix and, if wanted, an exposure. What is null is as the camera has it. */
export const variationSchema = z.object({
  name,
  order,
  lookId: id.nullable(),
  lightMix: lightMixSchema.nullable(),
  exposure: exposureSchema.nullable(),
});

export type Variation = z.infer<typeof variationSchema>;
