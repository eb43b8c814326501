/** Parts of a camera's settings, as they are compared, matched and packed. */
export const CAMERA_PARTS = [
  'back',
  'lens',
  'exposure',
  'focus',
  'framing',
  'guides',
  'look',
  'light',
  'place',
] as const;

export type CameraPart = (typeof CAMERA_PARTS)[number];

export const CAMERA_PART_NAMES: Readonly<Record<CameraPart, string>> = {
  back: 'Film back',
  lens: 'Lens',
  exposure: 'Exposure',
  focus: 'Focus',
  framing: 'Delivery frame',
  guides: 'Guides',
  look: 'Look',
  light: 'Light mix',
  place: 'Place and aim',
};
