/**
 * The polygon mesh: arrays, topology, attributes, keys, picks and measures. What other parts of the program use of it.
 */
export { anchorSpots, findAnchor } from './anchors';
export { nearestElement } from './elements';
export { gatherAttributes } from './gather';
export { type Bounds, boundsOf, joinBounds } from './bounds';
export { type Shape, areaOf, components, shapeOf, volumeOf } from './measure';
export {
  type ImageData8,
  Mesh,
  type MeshTextures,
  nameOfUvSet,
  UV,
  uvSetCalled,
  uvSets,
  meshFrom,
  withSetAhead,
} from './mesh';
export { boundsOfMesh } from './moved';
export { faceNormals } from './normals';
export { type ElementPick, type PickKind, edgeKeys, keysOf, mask, pickOf, resolve, verticesOf } from './picks';
export { topologyOf } from './topology';
export { triangleCount, triangulate } from './triangulate';
