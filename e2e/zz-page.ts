import { cameraAt, pictureAt, sequencesInOrder } from '@arvex/core';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';
const FILES = {
  geometry: async (hash: string) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash: string) => (await fetch(`/api/pictures/${hash}`)).blob(),
};
async function run(project: any) {
  const canvas = new OffscreenCanvas(16, 16);
  const stage = new Stage(canvas, FILES) as any;
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
  const seq = sequencesInOrder(project)[0]!.id;
  const finish = () => gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
  const out: any = {};
  let i = 0;
  stage.set.scene.traverse((m: any) => {
    if (m.isLight) out['light ' + m.type + i++] = [m.visible, m.intensity, m.castShadow];
    if (!m.isMesh) return;
    const owners = m.isInstancedMesh ? [...new Set(Array.from({ length: m.count }, (_, k) => project.placements[stage.set.pieces.ownerOf(m, k)]?.name))].join(',') : m.parent?.userData?.placementId;
    out['mesh' + i++] = JSON.stringify([m.type, m.count, m.geometry.index ? m.geometry.index.count / 3 : m.geometry.attributes.position?.count / 3, !!m.geometry.index, m.geometry.attributes.position?.count, m.castShadow, owners]);
  });
  const time = (f: (i: number) => void) => { const t: number[] = []; for (let i = 0; i < 9; i++) { const b = performance.now(); f(i); finish(); t.push(performance.now() - b); } return t.sort((a, b) => a - b)[4]; };
  const view = (f: number) => { const p = pictureAt(project, seq, f)!; return { ...viewOf(cameraAt(project, p.cameraId!, p.sceneFlicks), p.sceneFlicks), aperture: undefined }; };
  for (const [w, h] of [[960, 540], [320, 180]]) {
    out[`still ${w}`] = time(() => stage.draw(view(200), w, h));
    out[`moving ${w}`] = time((i) => stage.draw(view(200 + i), w, h));
    const goTo = stage.set.goTo.bind(stage.set); stage.set.goTo = (a: number) => goTo(a, false);
    out[`moving, shadows stay ${w}`] = time((i) => stage.draw(view(200 + i), w, h));
    stage.set.goTo = goTo;
    out[`fine sample ${w}`] = time((i) => stage.refine(view(200), w, h, i));
    out[`shadow redrawn ${w}`] = time((i) => { stage.set.shadowsStale = true; stage.draw(view(200), w, h); });
  }
  return out;
}
Object.assign(globalThis, { run });
