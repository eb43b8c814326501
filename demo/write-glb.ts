import { luminanceOf } from '@arvex/core';
import { Document, NodeIO } from '@gltf-transform/core';
import type { Mesh } from '@gltf-transform/core';
import { KHRMaterialsEmissiveStrength } from '@gltf-transform/extensions';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Piece } from './set-pieces';
import type { Shape } from './shapes';

/** Colour of lamp light, brightest part 1, and its relative luminance (BT.709). */
const LAMP_COLOUR: [number, number, number] = [1, 0.62, 0.26];
const LAMP_LUMINANCE = luminanceOf(LAMP_COLOUR);

/** A piece as the bytes of a GLB: at most one mesh for what is lit, one for what mirrors and one for what shines. */
export async function writeGlb(piece: Piece): Promise<Uint8Array> {
  const document = new Document();
  document.createBuffer();
  const part = document.createNode(piece.name);
  document.getRoot().setDefaultScene(document.createScene().addChild(part));
  const painted = (name: string, roughness: number) =>
    document.createMaterial(name).setRoughnessFactor(roughness).setMetallicFactor(0);
  part.setMesh(meshOf(document, piece.name, piece.lit).mesh);
  part
    .getMesh()
    ?.listPrimitives()[0]
    ?.setMaterial(painted('painted', piece.roughness ?? 1));
  if (piece.smooth) {
    const { mesh } = meshOf(document, `${piece.name} water`, piece.smooth.shapes);
    mesh.listPrimitives()[0]?.setMaterial(painted('water', piece.smooth.roughness));
    part.addChild(document.createNode(`${piece.name} water`).setMesh(mesh));
  }
  if (piece.shining) {
    const { mesh } = meshOf(document, `${piece.name} light`, piece.shining.shapes);
    const strength = document
      .createExtension(KHRMaterialsEmissiveStrength)
      .createEmissiveStrength()
      .setEmissiveStrength(piece.shining.luminance / LAMP_LUMINANCE); // cd/m² for each of red, green and blue
    const shining = document
      .createMaterial('shining')
      .setEmissiveFactor(LAMP_COLOUR)
      .setExtension('KHR_materials_emissive_strength', strength);
    mesh.listPrimitives()[0]?.setMaterial(shining);
    part.addChild(document.createNode(`${piece.name} light`).setMesh(mesh));
  }
  return new NodeIO().registerExtensions([KHRMaterialsEmissiveStrength]).writeBinary(document);
}

function meshOf(document: Document, name: string, shapes: readonly Shape[]): { mesh: Mesh } {
  const merged = mergeGeometries([...shapes]);
  const buffer = document.getRoot().listBuffers()[0] ?? null;
  const floats = (key: string) =>
    document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array(merged.getAttribute(key).array))
      .setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', floats('position'))
    .setAttribute('NORMAL', floats('normal'))
    .setAttribute(
      'COLOR_0',
      document.createAccessor().setType('VEC4').setArray(bytesOf(merged)).setNormalized(true).setBuffer(buffer),
    );
  return { mesh: document.createMesh(name).addPrimitive(primitive) };
}

/** Linear vertex colours as four bytes each, opaque. */
function bytesOf(shape: Shape): Uint8Array {
  const colours = shape.getAttribute('color');
  const bytes = new Uint8Array(colours.count * 4).fill(255);
  for (let i = 0; i < colours.count; i++) {
    for (let part = 0; part < 3; part++)
      bytes[i * 4 + part] = Math.round(255 * Math.min(1, colours.getComponent(i, part)));
  }
  return bytes;
}
