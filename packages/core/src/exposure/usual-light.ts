/** A light situation and the range of EV100 that usually suits it. */
export interface UsualLight {
  readonly name: string;
  readonly evFrom: number;
  readonly evTo: number;
}

/** Usual light from bright to dark, for the marks on the light strip. */
export const USUAL_LIGHT: readonly UsualLight[] = [
  { name: 'snow or sand in full sun', evFrom: 15.5, evTo: 16.5 },
  { name: 'full sun', evFrom: 14.5, evTo: 15.5 },
  { name: 'hazy sun', evFrom: 13.5, evTo: 14.5 },
  { name: 'bright overcast', evFrom: 12.5, evTo: 13.5 },
  { name: 'heavy overcast, open shade', evFrom: 11.5, evTo: 12.5 },
  { name: 'sun just below the horizon', evFrom: 9, evTo: 11 },
  { name: 'bright shop or sports hall', evFrom: 8, evTo: 9 },
  { name: 'ten minutes after sunset, office', evFrom: 6, evTo: 8 },
  { name: 'living room at night, lit street', evFrom: 4, evTo: 6 },
  { name: 'candle light, deep dusk', evFrom: 3, evTo: 4 },
  { name: 'floodlit building far off', evFrom: 1.5, evTo: 2.5 },
  { name: 'full moon', evFrom: -3, evTo: -2 },
];
