import type { Lut } from '@arvex/core';
import type { BufferGeometry, Texture } from 'three';
import { Mesh, MeshLambertMaterial, SRGBColorSpace, Texture as TextureOf } from 'three';
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import type { FormPart, PieceForm } from '../forms';
import type { ImportedBody } from './imported-body';
import { disposeBody, importedBody } from './imported-body';

/** Where the stage gets files by their hash. */
export interface StageFiles {
  geometry(hash: string): Promise<ArrayBuffer>;
  picture(hash: string): Promise<Blob>;
  /** A 3D table of colours. */
  lut(hash: string): Promise<Lut>;
}

/** Builds the search tree of a large geometry elsewhere and puts it in its place. */
export type GrowBoundsTree = (geometry: BufferGeometry) => Promise<void>;

/** Triangles up to which a search tree is built at once: a few milliseconds. */
const QUICK_TRIANGLES = 20_000;

/** Forms, files and pictures, each made or read once; what is placed shares them. */
export class BodyLibrary {
  private readonly forms = new Map<string, FormPart[]>();
  private readonly bodies = new Map<string, Promise<ImportedBody>>();
  private readonly textures = new Map<string, Promise<Texture>>();
  private readonly luts = new Map<string, Promise<Lut>>();
  private readonly loader = new GLTFLoader();
  /** Set by whoever has another thread for it; without one, large trees are built here. */
  growBoundsTree: GrowBoundsTree | undefined;

  constructor(private readonly files: StageFiles) {
    Mesh.prototype.raycast = acceleratedRaycast;
  }

  form({ key, make }: PieceForm): readonly FormPart[] {
    let parts = this.forms.get(key);
    if (!parts) {
      parts = make();
      parts.forEach(({ geometry }) => computeBoundsTree.call(geometry));
      this.forms.set(key, parts);
    }
    return parts;
  }

  /** An imported file, read once. One that could not be read is asked for again when it is needed again. */
  body(hash: string): Promise<ImportedBody> {
    return this.once(this.bodies, hash, async () => {
      const body = importedBody(await this.loader.parseAsync(await this.files.geometry(hash), ''));
      for (const { geometry } of body.parts) this.grow(geometry);
      return body;
    });
  }

  lut(hash: string): Promise<Lut> {
    return this.once(this.luts, hash, () => this.files.lut(hash));
  }

  picture(hash: string): Promise<Texture> {
    return this.once(this.textures, hash, async () => {
      const bitmap = await createImageBitmap(await this.files.picture(hash), { imageOrientation: 'flipY' });
      const texture = new TextureOf(bitmap);
      texture.flipY = false; // bitmaps are turned when they are made
      texture.colorSpace = SRGBColorSpace;
      texture.anisotropy = 4;
      texture.needsUpdate = true;
      return texture;
    });
  }

  /** Frees everything that no placement uses any more. What comes back is read again. */
  keepOnly(used: { readonly files: ReadonlySet<string>; readonly forms: ReadonlySet<string> }): void {
    for (const [key, parts] of this.forms) {
      if (used.forms.has(key)) continue;
      parts.forEach(({ geometry }) => geometry.dispose());
      this.forms.delete(key);
    }
    free(this.bodies, used.files, disposeBody);
    free(this.textures, used.files, (texture) => {
      texture.dispose();
      (texture.image as ImageBitmap).close();
    });
  }

  dispose(): void {
    this.keepOnly({ files: new Set(), forms: new Set() });
  }

  private grow(geometry: BufferGeometry): void {
    const triangles = (geometry.index ?? geometry.getAttribute('position')).count / 3;
    if (triangles <= QUICK_TRIANGLES || !this.growBoundsTree) computeBoundsTree.call(geometry);
    else void this.growBoundsTree(geometry).catch(() => computeBoundsTree.call(geometry));
  }

  private once<T>(kept: Map<string, Promise<T>>, key: string, make: () => Promise<T>): Promise<T> {
    let made = kept.get(key);
    if (!made) {
      made = make();
      kept.set(key, made);
      made.catch(() => kept.delete(key));
    }
    return made;
  }
}

/** Lets go of what is not used; what is still on its way goes when it has come. */
function free<T>(kept: Map<string, Promise<T>>, used: ReadonlySet<string>, dispose: (made: T) => void): void {
  for (const [hash, made] of kept) {
    if (used.has(hash)) continue;
    kept.delete(hash);
    // One that could not be read has nothing to be freed.
    made.then(dispose, () => undefined);
  }
}

/** A matt material for a part of a form, white where the piece's own colour is multiplied in. */
export function partMaterial({ colour, twoSided }: FormPart): MeshLambertMaterial {
  return new MeshLambertMaterial({ color: colour ?? '#ffffff', side: twoSided ? 2 : 0 });
}
