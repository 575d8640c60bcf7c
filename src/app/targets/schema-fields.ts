import * as z from 'zod';
import { TargetSchema } from '../../core/target/schema';
import type { Shape } from '../kit/shapes';

export const targetShape = z.toJSONSchema(TargetSchema, { io: 'input' }) as Shape;

/** The shape at a path, for completion in the text. */
export function shapeAt(path: readonly (string | number)[]): Shape | null {
  let shape: Shape | undefined = targetShape;
  for (const key of path) {
    if (!shape) return null;
    shape = typeof key === 'number' ? shape.items : (shape.properties?.[key] ?? all(shape, key));
  }
  return shape ?? null;
}

const all = (shape: Shape, key: string): Shape | undefined =>
  (shape.oneOf ?? shape.anyOf ?? []).map((s) => s.properties?.[key]).find((s) => s !== undefined);
