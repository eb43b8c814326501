/** What is told while a file is packed: what is being done, and how far it is (0 to 1) where that is known. */
export type PackProgress = (doing: string, share?: number) => void;

/** Geometry as one GLB, what was left out of it, in words, and the names of the files that went into it beside its own. */
export interface Packed {
  readonly glb: Blob;
  readonly leftOut: readonly string[];
  readonly used: readonly string[];
}
