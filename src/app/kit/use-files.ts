import { useFileDialog } from '@vueuse/core';

/** Asks for files; what is chosen is handed on, and the same may be chosen again. */
export function useFiles(
  accept: string,
  take: (files: File[]) => unknown,
  { multiple = true } = {},
): () => void {
  const { open, onChange } = useFileDialog({ accept, multiple, reset: true });
  onChange((files) => {
    if (files && files.length > 0) void take([...files]);
  });
  return () => open();
}
