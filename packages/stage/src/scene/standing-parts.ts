import type { AssetFile, Placement } from '@arvex/core';
import { lightColour, isGround, LAMP_RADIUS_M } from '@arvex/core';
import type { MeshLambertMaterial, Texture } from 'three';
import { Color, Matrix4 } from 'three';
import type { BodyLibrary, ImportedBody } from '../files';
import { colourOfLuminanceOne, partMaterial } from '../files';
import type { FormPart } from '../forms';
import { pieceForm } from '../forms';
import type { StagedSet } from '../patch';
import type { Glow, StandingPart } from './piece-batches';
import { lookKey } from './piece-batches';

const WHITE = new Color(1, 1, 1);

const materials = new WeakMap<FormPart, MeshLambertMaterial>();

/** The rigid parts of a placement. @param picture texture of a card, when it has one. */
export function standingParts(
  set: StagedSet,
  placement: Placement,
  library: BodyLibrary,
  body: ImportedBody | undefined,
  picture: Texture | undefined,
): StandingPart[] {
  const large = isGround(set, placement);
  const isLamp = placement.piece.kind === 'practical';
  const shared = { placementId: placement.id, large, castsShadow: !large && !isLamp, isLamp };
  if (body) return importedParts(placement, body, shared);
  const form = pieceForm(placement.piece);
  if (!form) return [];
  const [x, y, z] = form.sizeM;
  const offset = new Matrix4().makeScale(x, y, z);
  return library.form(form).map((part, i) => {
    const ownMaterial = materialFor(part, placement, picture);
    const glow = pieceGlow(placement, part, picture);
    const roughness = placement.surface.roughness ?? 1;
    const own = part.colour === undefined && !isUnlit(placement) ? placement.surface.colour : null;
    return {
      ...shared,
      key: `${form.key} ${i} ${standingKey(shared)} ${lookKey(ownMaterial, glow, roughness)}`,
      roughness,
      geometry: part.geometry,
      material: ownMaterial,
      offset,
      colour: own === null ? WHITE : new Color(own),
      glow,
    };
  });
}

type Shared = Pick<StandingPart, 'placementId' | 'large' | 'castsShadow' | 'isLamp'>;

/** What parts that are drawn together have in common beside form and look. */
function standingKey({ large, isLamp }: Shared): string {
  return `${large ? 'ground' : ''}${isLamp ? 'lamp' : ''}`;
}

function importedParts(placement: Placement, body: ImportedBody, shared: Shared): StandingPart[] {
  const { surface, lightGroupId, scale } = placement;
  const shines = body.parts.some((part) => part.luminanceCdM2 > 0);
  const scaling = new Matrix4().makeScale(...scale);
  return body.parts.map((part) => {
    const own = surface.luminanceCdM2;
    const roughness = surface.roughness ?? part.roughness;
    // A luminance of its own goes to what shines in the file, or to all of it when nothing does.
    const luminance = own !== null && (part.luminanceCdM2 > 0 || !shines) ? own : part.luminanceCdM2;
    const colour = part.luminanceCdM2 > 0 ? part.material.emissive : colourOfLuminanceOne(surface.colour ?? '#ffffff');
    const glow = luminance > 0 ? { colour: colour.clone(), luminanceCdM2: luminance, lightGroupId } : undefined;
    return {
      ...shared,
      key: `${part.geometry.uuid} ${standingKey(shared)} ${lookKey(part.material, glow, roughness)}`,
      roughness,
      geometry: part.geometry,
      material: part.material,
      offset: scaling.clone().multiply(part.offset),
      glow,
      colour: surface.colour === null ? WHITE : new Color(surface.colour),
    };
  });
}

const pictured = new WeakMap<Texture, Map<string, MeshLambertMaterial>>();

function materialFor(part: FormPart, placement: Placement, picture: Texture | undefined): MeshLambertMaterial {
  if (picture) {
    const unlit = isUnlit(placement);
    const kept = pictured.get(picture) ?? new Map<string, MeshLambertMaterial>();
    pictured.set(picture, kept);
    const known = kept.get(String(unlit));
    if (known) return known;
    const material = partMaterial(part);
    if (unlit) material.color.set(0, 0, 0);
    else material.map = picture;
    material.alphaTest = 0.5; // pictures cut out along their transparent parts
    kept.set(String(unlit), material);
    return material;
  }
  let material = materials.get(part);
  if (!material) {
    material = partMaterial(part);
    materials.set(part, material);
  }
  return material;
}

function isUnlit({ piece }: Placement): boolean {
  return piece.kind === 'card' && !piece.lit;
}

function pieceGlow(placement: Placement, part: FormPart, picture: Texture | undefined): Glow | undefined {
  const { piece, surface, lightGroupId } = placement;
  if (piece.kind === 'practical') {
    const luminanceCdM2 = practicalLuminance(piece);
    return { colour: new Color().setRGB(...lightColour(piece.kelvin)), luminanceCdM2, lightGroupId };
  }
  if (isUnlit(placement) && picture)
    return { colour: WHITE, luminanceCdM2: 'as-filed', lightGroupId: null, map: picture };
  const luminanceCdM2 = surface.luminanceCdM2 ?? 0;
  if (luminanceCdM2 <= 0 || part.colour !== undefined) return undefined;
  return { colour: colourOfLuminanceOne(surface.colour ?? '#ffffff'), luminanceCdM2, lightGroupId };
}

/** Luminance of a lamp's own surface, cd/m²: its flux over π times the area that shines (a Lambert radiator). */
function practicalLuminance(piece: Extract<Placement['piece'], { kind: 'practical' }>): number {
  const area = piece.lamp === 'area' ? piece.widthM * piece.heightM : 4 * Math.PI * LAMP_RADIUS_M ** 2;
  return piece.lumen / (Math.PI * area);
}

/** The picture on a card, when it has one. */
export function pictureOf({ piece, assetId }: Placement, files: Readonly<Record<string, { file: AssetFile }>>) {
  const file = piece.kind === 'card' && assetId !== null ? files[assetId]?.file : undefined;
  return file?.kind === 'picture' ? file : undefined;
}
