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
  mustBeShallow(bytes.subarray(start, start + chunk));
  try {
    const json: unknown = JSON.parse(new TextDecoder().decode(bytes.subarray(start, start + chunk)));
    if (typeof json !== 'object' || json === null || Array.isArray(json)) throw new Error('it is no object');
    return json as GltfJson;
  } catch (error) {
    throw new InterchangeError(`The file’s description cannot be read: ${(error as Error).message}.`);
  }
}

/** Deepest nesting of a description that is read. */
const DEEPEST_JSON = 64;
/** Most parts of each kind that are read: their checking takes time that grows faster than they do. */
const MOST_PARTS: Readonly<Record<string, number>> = {
  nodes: 50_000,
  meshes: 50_000,
  accessors: 100_000,
  bufferViews: 100_000,
  materials: 2000,
  textures: 4000,
  images: 2000,
  animations: 2000,
  skins: 2000,
};
/** Points or indices of one accessor, at most: more than the most triangles have. */
const MOST_ELEMENTS = 20_000_000;
/** Longest chain of things attached to things. */
const DEEPEST_NODES = 200;

const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN, CLOSE] = [34, 92, 91, 93, 123, 125];

/** @throws InterchangeError for JSON that is nested as no glTF is. */
function mustBeShallow(text: Uint8Array): void {
  let [depth, inText] = [0, false];
  for (let i = 0; i < text.length; i++) {
    const byte = text[i];
    if (byte === BACKSLASH && inText) i += 1;
    else if (byte === QUOTE) inText = !inText;
    else if (!inText && (byte === OPEN || byte === OPEN_LIST)) depth += 1;
    else if (!inText && (byte === CLOSE || byte === CLOSE_LIST)) depth -= 1;
    if (depth > DEEPEST_JSON)
      throw new InterchangeError(`The file’s description is nested more than ${DEEPEST_JSON} deep.`);
  }
}

/** @throws InterchangeError for a file with so many parts that checking them would take minutes, by its description alone. */
export function mustBeModest(json: GltfJson): void {
  for (const [part, most] of Object.entries(MOST_PARTS)) {
    const { length } = listOf(json[part]);
    if (length > most) {
      throw new InterchangeError(
        `The file has ${length} ${part}; up to ${most} are read. Join some of them, or split it.`,
        `/${part}`,
      );
    }
  }
  listOf(json['accessors']).forEach((accessor, i) => {
    const { count, sparse } = (accessor ?? {}) as { count?: unknown; sparse?: { count?: unknown } };
    const most = Math.max(...[count, sparse?.count].map((one) => (typeof one === 'number' ? one : 0)));
    if (most <= MOST_ELEMENTS) return;
    const field = `/accessors/${i}/count`;
    throw new InterchangeError(
      `An accessor has ${most} elements (at ${field}); up to ${MOST_ELEMENTS} are read.`,
      field,
    );
  });
  const children = listOf(json['nodes']).map((node) =>
    listOf((node as { children?: unknown } | null)?.children).filter((child) => typeof child === 'number'),
  );
  if (depthOf(children) <= DEEPEST_NODES) return;
  throw new InterchangeError(`Its nodes hang on each other more than ${DEEPEST_NODES} deep. Flatten them.`, '/nodes');
}

/** Longest way down, level by level; a circle is as deep as there are nodes. */
function depthOf(children: readonly (readonly number[])[]): number {
  const carried = new Set(children.flat());
  let level = children.flatMap((_, i) => (carried.has(i) ? [] : [i]));
  let seen = level.length;
  let depth = 0;
  while (level.length > 0 && depth <= DEEPEST_NODES) {
    depth += 1;
    level = level.flatMap((node) => children[node] ?? []);
    seen += level.length;
    if (seen > 2 * children.length) return Infinity;
  }
  return depth;
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
  count(listOf(json['scenes']).slice(1), 'more scene', 'more scenes', 'only the one that opens first is placed');
  const primitives = listOf(json['meshes']).flatMap((mesh) =>
    listOf((mesh as { primitives?: unknown } | null)?.primitives),
  );
  const lines = primitives.filter((primitive) => {
    const mode = (primitive as { mode?: unknown }).mode;
    return typeof mode === 'number' && mode <= LAST_LINE_MODE;
  });
  count(lines, 'mesh of points or lines', 'meshes of points or lines', 'not drawn');
  const materials = listOf(json['materials']) as Record<string, unknown>[];
  const shiny = materials.filter((material) => {
    const metal = material['pbrMetallicRoughness'] as Record<string, unknown> | undefined;
    return material['normalTexture'] ?? material['occlusionTexture'] ?? metal?.['metallicRoughnessTexture'];
  });
  count(shiny, 'material with relief, metal or gloss', 'materials with relief, metal or gloss', 'drawn matt');
  const used = listOf(json['extensionsUsed']).filter((name): name is string => typeof name === 'string');
  const rest = used.filter((name) => !KEPT_EXTENSION_NAMES.has(name) && name !== 'KHR_lights_punctual');
  if (rest.length > 0) found.push(`${rest.join(', ')}: not drawn`);
  return found.slice(0, LONGEST_LIST).map((text) => text.slice(0, 300));
}

function listOf(value: unknown): unknown[] {
  return Array.isArray(value) ? value : [];
}
