import { Logger, WebIO } from '@gltf-transform/core';
import { KHRMaterialsEmissiveStrength, KHRMeshQuantization, KHRTextureTransform } from '@gltf-transform/extensions';
import { validateString } from 'gltf-validator';
import type { Packed, PackProgress } from './import.worker';

interface Referring {
  readonly uri?: string;
}

/** Packs a glTF and the files dropped with it as GLB. @throws Error naming the file or place that is wrong. */
export async function packGltf(gltf: File, files: readonly File[], progress: PackProgress): Promise<Packed> {
  progress('Reading');
  const text = await gltf.text();
  let json: { buffers?: Referring[]; images?: Referring[]; asset?: unknown };
  try {
    json = JSON.parse(text) as typeof json;
  } catch (error) {
    throw new Error(`${gltf.name} is not JSON: ${(error as Error).message}.`, { cause: error });
  }
  const resources = await resourcesOf(gltf.name, json, files);
  progress('Checking');
  const report = await validateString(text, {
    maxIssues: 20,
    externalResourceFunction: (uri: string) => {
      const found = resources[uri];
      return found ? Promise.resolve(found) : Promise.reject(new Error(`${uri} is missing`));
    },
  });
  const [first] = report.issues.messages.filter((issue) => issue.severity === 0);
  if (first) throw new Error(`${first.message} (at ${first.pointer ?? 'the file'}). Export it again.`);
  progress('Packing');
  const io = new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions([KHRMaterialsEmissiveStrength, KHRMeshQuantization, KHRTextureTransform]);
  const document = await io.readJSON({ json: json as never, resources });
  return { glb: new Blob([await io.writeBinary(document)]), leftOut: [] };
}

/** Bytes of every file the glTF refers to, by the name it is called there. */
async function resourcesOf(
  name: string,
  json: { buffers?: Referring[]; images?: Referring[] },
  files: readonly File[],
): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const part of ['buffers', 'images'] as const) {
    for (const [i, { uri }] of (json[part] ?? []).entries()) {
      if (uri === undefined || uri.startsWith('data:')) continue;
      const place = `/${part}/${i}/uri`;
      if (/^[a-z][a-z0-9+.-]*:/i.test(uri)) {
        throw new Error(`${name} refers to ${uri.slice(0, 80)} (at ${place}). Only files brought in with it are read.`);
      }
      const wanted = decodeURIComponent(uri).split('/').pop() ?? uri;
      const file = files.find((one) => one.name.toLowerCase() === wanted.toLowerCase());
      if (!file) throw new Error(`${name} needs ${wanted} (at ${place}). Bring both in together.`);
      resources[uri] = new Uint8Array(await file.arrayBuffer());
    }
  }
  return resources;
}
