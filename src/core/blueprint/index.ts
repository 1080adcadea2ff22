/**
 * Calibrated reference pictures: their frame, level and scale, and what is fitted on them. What other parts of the
 * program use of it.
 */
export {
  type Blueprint,
  SIDES,
  type Side,
  type Station,
  levelBy,
  newBlueprint,
  scaleBy,
  sideTurn,
  toPlane,
} from './blueprint';
export { fitCircle, fitEllipse } from './fit';
