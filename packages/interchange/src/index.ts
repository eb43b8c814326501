export * from './gltf';
export * from './geometry';
export * from './obj';
export type * from './packed';
