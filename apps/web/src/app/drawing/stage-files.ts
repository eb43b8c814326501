import { readCube } from '@arvex/interchange/looks';
import type { StageFiles } from '@arvex/stage';

/** Files of the set from the server, in a window and in a worker alike. */
export const STAGE_FILES: StageFiles = {
  geometry: async (hash) => (await fetched(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash) => (await fetched(`/api/pictures/${hash}`)).blob(),
  lut: async (hash) => readCube(await (await fetched(`/api/luts/${hash}`)).text()),
};

async function fetched(path: string): Promise<Response> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} answered ${response.status}`);
  return response;
}
