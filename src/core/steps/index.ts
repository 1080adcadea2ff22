export { box, cylinder, plane, sphere, broughtIn } from './start';
export { merged, keep, section } from './gather';
export { shape } from './shape';
export { mirror, subdivide, place, weld } from './modify';
export { unwrap, color, texture } from './finish';
