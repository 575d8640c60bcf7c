import { useElementSize } from '@vueuse/core';
import { computed, useTemplateRef, type ComputedRef } from 'vue';

/**
 * Pixels that the drawing of a component has, for its `viewBox`: one unit a pixel, so that what is
 * written in it is as large as everywhere. The drawing is the element of the reference `svg`.
 * @param usual before it is laid out
 */
export function useDrawnWidth(
  usual: number,
  { least = 120, most = Infinity } = {},
): ComputedRef<number> {
  const { width } = useElementSize(useTemplateRef<SVGSVGElement>('svg'));
  return computed(() => Math.max(least, Math.min(most, Math.round(width.value) || usual)));
}
