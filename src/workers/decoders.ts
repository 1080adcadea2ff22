/** Where workers of the page find the programs of decoders: beside their scripts, from our own server. */
import { dracoProgram } from '../core/formats';

dracoProgram.fetch = async () =>
  (await fetch(new URL('../../node_modules/draco3dgltf/draco_decoder_gltf.wasm', import.meta.url))).arrayBuffer();
