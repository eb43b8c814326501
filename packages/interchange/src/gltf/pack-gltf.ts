import { Logger, WebIO } from '@gltf-transform/core';
import { InterchangeError } from '../error';
import type { Packed, PackProgress } from '../packed';
import { KEPT_EXTENSIONS } from './extensions';
import { mustBeModest } from './gltf-contents';
import { mustBeValidGltf } from './valid-gltf';

interface Referring {
  readonly uri?: string;
}

/** Packs a glTF and the files dropped with it as GLB. @throws InterchangeError naming the file or place that is wrong. */
export async function packGltf(gltf: File, files: readonly File[], progress: PackProgress): Promise<Packed> {
  progress('Reading');
  const text = await gltf.text();
  let json: { buffers?: Referring[]; images?: Referring[]; asset?: unknown };
  try {
    json = JSON.parse(text) as typeof json;
  } catch (error) {
    throw new InterchangeError(`${gltf.name} is not JSON: ${(error as Error).message}.`, '', { cause: error });
  }
  mustBeModest(json);
  const used: string[] = [];
  const resources = await resourcesOf(gltf.name, json, files, used);
  progress('Checking');
  await mustBeValidGltf(text, (uri) => {
    const found = resources[uri];
    return found ? Promise.resolve(found) : Promise.reject(new Error(`${uri} is missing`));
  });
  progress('Packing');
  const io = new WebIO().setLogger(new Logger(Logger.Verbosity.SILENT)).registerExtensions(KEPT_EXTENSIONS);
  const document = await io.readJSON({ json: json as never, resources });
  return { glb: new Blob([await io.writeBinary(document)]), leftOut: [], used };
}

/** Bytes of every file the glTF refers to, by the name it is called there; `used` gets the names of these files. */
async function resourcesOf(
  name: string,
  json: { buffers?: Referring[]; images?: Referring[] },
  files: readonly File[],
  used: string[],
): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const part of ['buffers', 'images'] as const) {
    for (const [i, { uri }] of (json[part] ?? []).entries()) {
      if (uri === undefined || uri.startsWith('data:')) continue;
      const place = `/${part}/${i}/uri`;
      if (/^[a-z][a-z0-9+.-]*:/i.test(uri)) {
        throw new InterchangeError(
          `${name} refers to ${uri.slice(0, 80)} (at ${place}). Only files brought in with it are read.`,
        );
      }
      const wanted = decodeURIComponent(uri).split('/').pop() ?? uri;
      const file = files.find((one) => one.name.toLowerCase() === wanted.toLowerCase());
      if (!file) throw new InterchangeError(`${name} needs ${wanted} (at ${place}). Bring both in together.`);
      used.push(file.name);
      resources[uri] = new Uint8Array(await file.arrayBuffer());
    }
  }
  return resources;
}
