/** Sounding events in clock order. */
export interface Schedule {
  readonly count: number;
  readonly ms: Float64Array;
  readonly status: Uint8Array;
  readonly data1: Uint8Array;
  readonly data2: Uint8Array;
  /** Index of the part in its view, so that it can be muted. */
  readonly part: Uint32Array;
  /** System exclusives in order of time, without the byte that begins them; no synthesiser hears them. */
  readonly exclusives?: readonly { readonly ms: number; readonly bytes: Uint8Array }[];
  readonly endMs: number;
}
