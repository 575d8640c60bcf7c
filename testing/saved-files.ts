import { vi } from 'vitest';

/** A file that is saved goes nowhere; what would have gone out is told by its calls. */
export const saveFile = vi.fn<(bytes: Uint8Array, name: string, type: string) => void>();
export const typeOf = (): string => 'audio/midi';
