declare module 'gltf-validator' {
  interface Issue {
    readonly code: string;
    readonly message: string;
    /** 0 is an error, 1 a warning, 2 information, 3 a hint. */
    readonly severity: number;
    readonly pointer?: string;
    readonly offset?: number;
  }
  export function validateBytes(
    bytes: Uint8Array,
    options?: { maxIssues?: number },
  ): Promise<{ issues: { numErrors: number; messages: Issue[] } }>;
}
