declare module 'gltf-validator' {
  interface Issue {
    readonly code: string;
    readonly message: string;
    /** 0 is an error, 1 a warning, 2 information, 3 a hint. */
    readonly severity: number;
    readonly pointer?: string;
    readonly offset?: number;
  }
  export interface Report {
    readonly issues: { readonly numErrors: number; readonly messages: readonly Issue[]; readonly truncated: boolean };
  }
  interface Options {
    maxIssues?: number;
    externalResourceFunction?: (uri: string) => Promise<Uint8Array>;
  }
  export function validateBytes(bytes: Uint8Array, options?: Options): Promise<Report>;
  export function validateString(json: string, options?: Options): Promise<Report>;
}
