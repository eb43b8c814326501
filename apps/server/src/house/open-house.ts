import type { Feature, OpenFeature } from '../ground/feature';
import { answering } from '../ground/feature';
import { namedRoutes } from '../features/by-name/routes';
import { eventRoutes } from '../features/events/routes';
import { framesTableRoutes } from '../features/frames-tables/routes';
import type { GeometryOptions } from '../features/geometry/routes';
import { geometryRoutes } from '../features/geometry/routes';
import { lutRoutes } from '../features/luts/routes';
import { pictureRoutes } from '../features/pictures/routes';
import { projectRoutes } from '../features/projects/routes';
import type { RenderOptions } from '../features/renders/feature';
import { renders } from '../features/renders/feature';
import { roomRoutes } from '../features/room/routes';
import { soundRoutes } from '../features/sounds/routes';
import type { Ground, GroundOptions } from '../ground/ground';
import { openGround } from '../ground/ground';

export interface HouseOptions extends GroundOptions, GeometryOptions, RenderOptions {}

/** What the server is made of: the ground, and the features on it. */
export interface House {
  readonly ground: Ground;
  readonly features: readonly OpenFeature[];
  close(): Promise<void>;
}

/** Every feature, once. A new one is a folder in `features/` and a line here. */
const featuresOf = (options: HouseOptions): readonly Feature[] => [
  answering(projectRoutes),
  answering(eventRoutes),
  answering(geometryRoutes(options)),
  answering(namedRoutes),
  answering(pictureRoutes),
  answering(framesTableRoutes),
  renders(options),
  answering(roomRoutes),
  answering(soundRoutes),
  answering(lutRoutes),
];

/** Opens the whole server but for its door, on a migrated database. */
export async function openHouse(options: HouseOptions): Promise<House> {
  const ground = await openGround(options);
  const features = featuresOf(options).map((open) => open(ground));
  return {
    ground,
    features,
    close: async () => {
      await Promise.all(features.map(async (feature) => feature.close?.()));
      await ground.close();
    },
  };
}
