/** Largest geometry file that is taken, bytes; files that belong together are counted together. */
export const LARGEST_GEOMETRY_BYTES = 200_000_000;
