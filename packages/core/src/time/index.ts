export * from './duration';
export * from './rate';
export * from './timecode';
