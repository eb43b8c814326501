import { KHRMaterialsEmissiveStrength, KHRMeshQuantization, KHRTextureTransform } from '@gltf-transform/extensions';

/** Extensions of glTF whose meaning Arvex keeps. */
export const KEPT_EXTENSIONS = [KHRMaterialsEmissiveStrength, KHRMeshQuantization, KHRTextureTransform];

export const KEPT_EXTENSION_NAMES: ReadonlySet<string> = new Set(
  KEPT_EXTENSIONS.map(({ EXTENSION_NAME }) => EXTENSION_NAME),
);
