export * from './gltf';
export * from './limits';
export * from './obj';
export type * from './packed';
