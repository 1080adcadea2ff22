/**
 * The library that knows how glTF is packed, with the extensions we read and the decoders they need, which are loaded
 * when asked for.
 */
import { Logger, VertexLayout, WebIO } from '@gltf-transform/core';
import {
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureWebP,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsUnlit,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions';

const READ = [
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureWebP,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsUnlit,
  KHRMeshQuantization,
  KHRTextureTransform,
];

export const KNOWN_EXTENSIONS: ReadonlySet<string> = new Set(READ.map((x) => x.EXTENSION_NAME));

/** Where there is no file system beside the decoder, who knows says how its program is come by. */
export const dracoProgram: { fetch?: () => Promise<ArrayBuffer> } = {};

export const writer = (): WebIO =>
  new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .setVertexLayout(VertexLayout.SEPARATE)
    .registerExtensions(READ);

/** `used`: names of the extensions that the file says it uses. */
export async function reader(used: readonly string[]): Promise<WebIO> {
  const io = writer();
  if (used.includes(EXTMeshoptCompression.EXTENSION_NAME)) {
    const { MeshoptDecoder } = await import('meshoptimizer');
    await MeshoptDecoder.ready;
    io.registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
  }
  if (used.includes(KHRDracoMeshCompression.EXTENSION_NAME)) {
    const { default: decoder } = await import('draco3dgltf/draco_decoder_gltf_nodejs.js');
    const wasmBinary = await dracoProgram.fetch?.();
    io.registerDependencies({ 'draco3d.decoder': await decoder(wasmBinary ? { wasmBinary } : {}) });
  }
  return io;
}
