import fc from 'fast-check';

/** Well-formed SMF bytes of every kind: running status, wide numbers, sysex, unknown meta, chunks. */
const number = (value: number, extra = 0): number[] => {
  const out = [value & 0x7f];
  for (let rest = value >>> 7; rest > 0; rest >>>= 7) out.unshift((rest & 0x7f) | 0x80);
  while (extra-- > 0 && out.length < 4) out.unshift(0x80);
  return out;
};
const u32 = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
const chars = (text: string) => [...text].map((c) => c.charCodeAt(0));

const data = fc.nat(127);
const delta = fc.oneof(fc.nat(200), fc.nat(20_000));
const channelEvent = fc.record({
  kind: fc.constant('channel' as const),
  delta,
  extra: fc.constantFrom(0, 0, 0, 1),
  status: fc.integer({ min: 0x80, max: 0xef }),
  data: fc.tuple(data, data),
  running: fc.boolean(),
});
const metaEvent = fc.record({
  kind: fc.constant('meta' as const),
  delta,
  extra: fc.constantFrom(0, 0, 0, 2),
  event: fc.oneof(
    fc.tuple(fc.constantFrom(1, 2, 3, 4, 5, 6, 7, 0x60, 0x7f), fc.uint8Array({ maxLength: 200 })),
    fc.tuple(
      fc.constant(0x51),
      fc.integer({ min: 1, max: 0xffffff }).map((n) => Uint8Array.of(n >> 16, n >> 8, n)),
    ),
    fc.tuple(
      fc.constant(0x58),
      fc
        .tuple(fc.integer({ min: 1, max: 40 }), fc.nat(7))
        .map(([n, d]) => Uint8Array.of(n, d, 24, 8)),
    ),
    fc.tuple(fc.constant(0x59), fc.constant(Uint8Array.of(2, 0))),
  ),
});
const sysexEvent = fc.record({
  kind: fc.constant('sysex' as const),
  delta,
  extra: fc.constant(0),
  status: fc.constantFrom(0xf0, 0xf7),
  body: fc.uint8Array({ maxLength: 60 }),
});
const event = fc.oneof({ weight: 6, arbitrary: channelEvent }, metaEvent, sysexEvent);

const track = fc.tuple(fc.array(event, { maxLength: 60 }), delta).map(([events, last]) => {
  const body: number[] = [];
  let running = 0;
  for (const e of events) {
    body.push(...number(e.delta, e.extra));
    if (e.kind === 'channel') {
      if (!(e.running && running === e.status)) body.push(e.status);
      body.push(e.data[0]);
      if (e.status < 0xc0 || e.status >= 0xe0) body.push(e.data[1]);
      running = e.status;
    } else if (e.kind === 'meta') {
      body.push(0xff, e.event[0], ...number(e.event[1].length, e.extra), ...e.event[1]);
      running = 0;
    } else {
      body.push(e.status, ...number(e.body.length), ...e.body);
      running = 0;
    }
  }
  body.push(...number(last), 0xff, 0x2f, 0);
  return [...chars('MTrk'), ...u32(body.length), ...body];
});

export const wellFormed = fc
  .tuple(
    fc.constantFrom(0, 1, 1, 1, 2),
    fc.integer({ min: 1, max: 32767 }),
    fc.array(track, { minLength: 1, maxLength: 5 }),
  )
  .map(([format, division, tracks]) => {
    const chosen = format === 0 ? tracks.slice(0, 1) : tracks;
    const head = [
      ...chars('MThd'),
      ...u32(6),
      0,
      format,
      0,
      chosen.length,
      division >> 8,
      division & 255,
    ];
    return Uint8Array.from([...head, ...chosen.flat()]);
  });
