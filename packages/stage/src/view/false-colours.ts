/** Stops from the mid-tone at which false colours change, and the colours, from the darkest; beyond the last it clips. */
export const FALSE_COLOURS: readonly {
  readonly upToStops: number;
  readonly name: string;
  readonly rgb: readonly [number, number, number];
}[] = [
  { upToStops: -5, name: 'black', rgb: [0.05, 0.04, 0.08] },
  { upToStops: -3.5, name: 'deep shadow', rgb: [0.2, 0.13, 0.38] },
  { upToStops: -2, name: 'shadow', rgb: [0.17, 0.33, 0.55] },
  { upToStops: -1, name: '2 to 1 under', rgb: [0.13, 0.5, 0.55] },
  { upToStops: -0.25, name: 'just under', rgb: [0.45, 0.62, 0.6] },
  { upToStops: 0.25, name: 'mid-tone', rgb: [0.72, 0.72, 0.72] },
  { upToStops: 1, name: 'just over', rgb: [0.8, 0.72, 0.5] },
  { upToStops: 2, name: '1 to 2 over', rgb: [0.88, 0.62, 0.2] },
  { upToStops: 3.25, name: 'highlight', rgb: [0.85, 0.4, 0.13] },
  { upToStops: Infinity, name: 'clips', rgb: [0.8, 0.1, 0.25] },
];
