import type { Camera, Placement, Project } from '../model';
import type { RenderOrder } from './order';

/** A project as an order shows it: without what is left out, at a typed size in the place of the delivery size. */
export function orderedProject(project: Project, order: RenderOrder): Project {
  const { size, shutter } = order;
  const head = {
    ...project.head,
    shutterOpens: shutter.opens === 'as-set' ? project.head.shutterOpens : shutter.opens,
    ...(size.kind === 'typed' && { delivery: typedDelivery(size) }),
  };
  return { ...project, head, placements: seenPlacements(project, order), cameras: sizedCameras(project, order) };
}

function typedDelivery({ widthPx, heightPx }: { readonly widthPx: number; readonly heightPx: number }) {
  return { widthPx, heightPx, pixelAspect: 1 };
}

function seenPlacements({ placements }: Project, { visible }: RenderOrder): Project['placements'] {
  const without = new Set(visible.without);
  const hidden = (placement: Placement) =>
    without.has(placement.id) || (!visible.figures && placement.piece.kind === 'figure');
  if (!Object.values(placements).some(hidden)) return placements;
  return Object.fromEntries(
    Object.values(placements).map((one) => [one.id, hidden(one) ? { ...one, visible: false } : one]),
  );
}

function sizedCameras({ cameras }: Project, { size }: RenderOrder): Project['cameras'] {
  if (size.kind !== 'typed') return cameras;
  const delivery = typedDelivery(size);
  return Object.fromEntries(
    Object.values(cameras).map((camera): [string, Camera] => [
      camera.id,
      { ...camera, framing: { ...camera.framing, delivery } },
    ]),
  );
}
