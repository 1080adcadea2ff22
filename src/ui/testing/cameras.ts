/** For tests of the view: a camera on what is within a metre of the origin. */
import * as THREE from 'three';
import { Camera } from '../bench/view/camera';

export const W = 800;
export const H = 600;

export function camera(): Camera {
  const c = new Camera();
  c.resize(W, H);
  c.see(new THREE.Box3(new THREE.Vector3(-1, -1, -1), new THREE.Vector3(1, 1, 1)));
  return c;
}
