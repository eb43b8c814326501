import * as z from 'zod';
import { skySchema, sunPlaceSchema, sunSchema } from '../light';
import { base, id, name } from './fields';

/** A place with its daylight; sun and sky belong to a light group. */
const setSchema = z.object({
  ...base,
  name,
  sun: sunSchema,
  sky: skySchema,
  sunFrom: z.enum(['typed', 'place']),
  sunPlace: sunPlaceSchema,
  amounts: z.enum(['typed', 'follow']),
  daylightGroupId: id.nullable(),
});

export type SetEntity = z.infer<typeof setSchema>;

/** A clear afternoon, so that a new set is neither black nor burnt out. */
export const SET_DEFAULTS: Omit<SetEntity, 'id' | 'revision'> = {
  name: 'Set',
  sun: { elevationDeg: 35, azimuthDeg: 140, illuminanceLx: 20_000, kelvin: 5600 },
  sky: { illuminanceLx: 8000, zenithKelvin: 9000, horizonKelvin: 6500 },
  sunFrom: 'typed',
  sunPlace: { latitudeDeg: 54, longitudeDeg: 8.5, localTime: '2026-06-21T15:00', utcOffsetHours: 2 },
  amounts: 'follow',
  daylightGroupId: null,
};

export const setKind = { table: 'sets', schema: setSchema, references: { daylightGroupId: 'lightGroup' } } as const;
