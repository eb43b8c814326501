export * from '../error';
export * from './geometry-facts';
export * from './pack-gltf';
