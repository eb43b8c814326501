import { BROWSER_ARGUMENTS, GRAPHICS } from '../apps/server/src/features/renders/graphics';

/** Debian's browser as renderers start it, drawing with the best that there is. */
export const ARGUMENTS: string[] = [...BROWSER_ARGUMENTS, ...(GRAPHICS[0]?.flags ?? [])];
