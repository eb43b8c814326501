/** What is told while a file is packed: what is being done, and how far it is (0 to 1) where that is known. */
export type PackProgress = (doing: string, share?: number) => void;

/** Geometry as one GLB, and what was left out of it, in words. */
export interface Packed {
  readonly glb: Blob;
  readonly leftOut: readonly string[];
}
