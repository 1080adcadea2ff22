declare module 'gltf-validator' {
  export function validateBytes(
    data: Uint8Array,
    options?: { externalResourceFunction(uri: string): Promise<Uint8Array> },
  ): Promise<{ issues: { numErrors: number; numWarnings: number; messages: { severity: number; code: string }[] } }>;
}
