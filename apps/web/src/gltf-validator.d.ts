declare module 'gltf-validator' {
  interface Issue {
    readonly message: string;
    /** 0 is an error, 1 a warning, 2 information, 3 a hint. */
    readonly severity: number;
    readonly pointer?: string;
  }
  export function validateString(
    json: string,
    options?: {
      maxIssues?: number;
      externalResourceFunction?: (uri: string) => Promise<Uint8Array>;
    },
  ): Promise<{ issues: { messages: Issue[] } }>;
}
