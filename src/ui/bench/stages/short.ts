/** Numbers that must fit beside others. */
import { formatNumber, unitSize, type LengthUnit } from '../../../core/recipe/quantity';

/**
 * A length in a unit with no more digits than tell anything: five that count, so 0.25 stays 0.25 and 9907.33 becomes
 * 9907. What is larger than five digits is told in thousands with a space between.
 */
export function shortLength(metres: number, unit: LengthUnit, digits: number): string {
  const x = Math.abs(metres) / unitSize(unit);
  const whole = x >= 1 ? Math.floor(Math.log10(x)) + 1 : 1;
  const text = formatNumber(metres, 'length', unit, Math.max(0, Math.min(digits, 5 - whole)));
  return whole > 4 ? inThousands(text) : text;
}

function inThousands(number: string): string {
  const [digits] = /\d+/.exec(number) ?? [''];
  const parts: string[] = [];
  for (let end = digits.length; end > 0; end -= 3) parts.unshift(digits.slice(Math.max(0, end - 3), end));
  return number.replace(digits, parts.join('\u2009'));
}

/** Areas in the square of the unit that keeps the number short. */
export function shortArea(m2: number, units: LengthUnit): string {
  if (units === 'in' || units === 'ft')
    return `${formatNumber(m2 / unitSize(units) ** 2, 'number', units, 2)} ${units}²`;
  if (m2 >= 1) return `${formatNumber(m2, 'number', units, 3)} m²`;
  if (m2 >= 1e-4) return `${formatNumber(m2 * 1e4, 'number', units, 2)} cm²`;
  return `${formatNumber(m2 * 1e6, 'number', units, 2)} mm²`;
}
