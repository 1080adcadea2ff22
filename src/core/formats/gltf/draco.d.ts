declare module 'draco3dgltf/draco_decoder_gltf_nodejs.js' {
  export default function createDecoderModule(options: { wasmBinary?: ArrayBuffer }): Promise<unknown>;
}
declare module 'draco3dgltf' {
  const draco: { createEncoderModule(options?: object): Promise<unknown> };
  export default draco;
}
