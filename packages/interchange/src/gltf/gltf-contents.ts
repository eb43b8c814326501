import { InterchangeError } from '../error';
import { KEPT_EXTENSION_NAMES } from './extensions';

/** `glTF` in ASCII and the type of the JSON chunk (glTF 2.0, 4.4 Binary glTF layout). */
const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const GLB_HEADER_BYTES = 12;
const CHUNK_HEADER_BYTES = 8;
/** Modes of primitives that are not triangles (glTF 2.0, 5.24.4): points, lines, loops and strips of lines. */
const LAST_LINE_MODE = 3;
const LONGEST_LIST = 50;

/** The parts of a glTF's JSON that decide whether and how it is drawn. Nothing in it is trusted yet. */
export type GltfJson = Readonly<Record<string, unknown>>;

/** Reads the JSON of a GLB. @throws InterchangeError for what is not a whole GLB. */
export function readJsonChunk(bytes: Uint8Array): GltfJson {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.byteLength < GLB_HEADER_BYTES + CHUNK_HEADER_BYTES || view.getUint32(0, true) !== GLB_MAGIC) {
    throw new InterchangeError('This is not a GLB file: it does not begin with the glTF signature.');
  }
  const [declared, chunk] = [view.getUint32(8, true), view.getUint32(GLB_HEADER_BYTES, true)];
  const start = GLB_HEADER_BYTES + CHUNK_HEADER_BYTES;
  if (declared > bytes.byteLength || start + chunk > bytes.byteLength) {
    const missing = Math.max(declared, start + chunk) - bytes.byteLength;
    throw new InterchangeError(`The file is cut off: ${missing} bytes are missing. Copy or export it again.`);
  }
  if (view.getUint32(GLB_HEADER_BYTES + 4, true) !== JSON_CHUNK) {
    throw new InterchangeError('The first chunk of the file is not its description (JSON). Export it again.');
  }
  try {
    return JSON.parse(new TextDecoder().decode(bytes.subarray(start, start + chunk))) as GltfJson;
  } catch (error) {
    throw new InterchangeError(`The file’s description cannot be read: ${(error as Error).message}.`);
  }
}

/** @throws InterchangeError for files that need what Arvex has not, or that point outside themselves. */
export function mustBeDrawable(json: GltfJson): void {
  const needed = listOf(json['extensionsRequired']).filter((name): name is string => typeof name === 'string');
  const unknown = needed.filter((name) => !KEPT_EXTENSION_NAMES.has(name));
  if (unknown.length > 0) {
    const way = /draco|meshopt/i.test(unknown.join()) ? 'without compression' : 'without it';
    throw new InterchangeError(`The file needs ${unknown.join(', ')}. Export it ${way}.`, '/extensionsRequired');
  }
  for (const part of ['buffers', 'images'] as const) {
    listOf(json[part]).forEach((entry, i) => {
      const uri = (entry as { uri?: unknown } | null)?.uri;
      if (typeof uri !== 'string' || uri.startsWith('data:')) return;
      const field = `/${part}/${i}/uri`;
      const what = uri.length > 80 ? `${uri.slice(0, 80)} …` : uri;
      throw new InterchangeError(`The file refers to another one, "${what}" (at ${field}). Pack it as GLB.`, field);
    });
  }
}

/** What a file holds that Arvex leaves out or draws more simply, in words. */
export function leftOutOf(json: GltfJson): string[] {
  const found: string[] = [];
  const count = (value: unknown, one: string, many: string, why: string) => {
    const { length } = listOf(value);
    if (length > 0) found.push(`${length} ${length === 1 ? one : many}: ${why}`);
  };
  const lights = (json['extensions'] as { KHR_lights_punctual?: { lights?: unknown } } | undefined)
    ?.KHR_lights_punctual;
  count(json['cameras'], 'camera', 'cameras', 'geometry is brought in without them');
  count(lights?.lights, 'light', 'lights', 'put practicals in the set instead');
  const scenes = listOf(json['scenes']).length;
  if (scenes > 1) found.push(`${scenes - 1} more scenes: only the one that opens first is placed`);
  const primitives = listOf(json['meshes']).flatMap((mesh) => listOf((mesh as { primitives?: unknown }).primitives));
  const lines = primitives.filter((primitive) => {
    const mode = (primitive as { mode?: unknown }).mode;
    return typeof mode === 'number' && mode <= LAST_LINE_MODE;
  });
  if (lines.length > 0) found.push(`${lines.length} meshes of points or lines: they are not drawn`);
  const materials = listOf(json['materials']) as Record<string, unknown>[];
  const shiny = materials.filter((material) => {
    const metal = material['pbrMetallicRoughness'] as Record<string, unknown> | undefined;
    return material['normalTexture'] ?? material['occlusionTexture'] ?? metal?.['metallicRoughnessTexture'];
  });
  if (shiny.length > 0) found.push(`${shiny.length} materials with relief, metal or gloss: they are drawn matt`);
  const used = listOf(json['extensionsUsed']).filter((name): name is string => typeof name === 'string');
  const rest = used.filter((name) => !KEPT_EXTENSION_NAMES.has(name) && name !== 'KHR_lights_punctual');
  if (rest.length > 0) found.push(`${rest.join(', ')}: not drawn`);
  return found.slice(0, LONGEST_LIST).map((text) => text.slice(0, 300));
}

function listOf(value: unknown): unknown[] {
  return Array.isArray(value) ? value : [];
}
