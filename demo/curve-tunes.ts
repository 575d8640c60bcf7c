import { degree, DORIAN, seeded, smf, Track, wander } from './song';

const PPQ = 480;
const BAR = 4 * PPQ;

/** Seconds of a tune at a tempo, as ticks. */
const ticks = (seconds: number, bpm: number) => Math.round((seconds * bpm * PPQ) / 60);

/**
 * A song for the effects pedal, as it came out of a rehearsal: presets by foot, one a beat late and
 * one on the bar line, a switch pressed while a preset loads, and an expression pedal that was
 * recorded as fast as the interface could send.
 */
export function saltInTheWires(): Uint8Array {
  const bpm = 104;
  const conductor = new Track('Salt in the wires')
    .tempo(0, bpm)
    .meter(0, 4, 4)
    .marker(0, 'Verse')
    .marker(8 * BAR, 'Refrain')
    .marker(16 * BAR, 'Second verse')
    .marker(20 * BAR, 'Break')
    .marker(24 * BAR, 'Last refrain');
  const wire = new Track('Wire guitar').program(0, 1, 27);
  const bass = new Track('Tide bass').program(0, 2, 33);
  wander(411, 256, 9, 7).forEach((step, i) => {
    if (step === null) return;
    wire.note(1, i * 240, 200, degree(DORIAN, 57, step), 74 + (i % 4) * 8);
    if (i % 4 === 0) bass.note(2, i * 240, 900, degree(DORIAN, 33, step % 5), 88);
  });
  const pedal = new Track('Stomp');
  const preset = (tick: number, bank: number, program: number) =>
    pedal.control(tick, 9, 0, bank).program(tick, 9, program);
  preset(0, 0, 0);
  // A beat late: the refrain begins dry.
  preset(8 * BAR + PPQ, 1, 1);
  // On the bar line: it is still loading when the verse begins. Nothing is in bank B at 5.
  preset(16 * BAR, 0, 2);
  preset(20 * BAR - ticks(0.08, bpm), 1, 4);
  preset(24 * BAR - ticks(0.08, bpm), 1, 7);
  preset(28 * BAR, 1, 7);
  // Pressed together with the preset: the pedal is deaf, and it is on there by itself.
  pedal.control(8 * BAR + PPQ + 8, 9, 82, 127);
  pedal.control(10 * BAR, 9, 80, 127).control(10 * BAR + 10, 9, 80, 0);
  pedal.control(12 * BAR, 9, 80, 127).control(15 * BAR, 9, 80, 0);
  pedal.control(26 * BAR, 9, 93, 3).control(27 * BAR, 9, 83, 64);
  // The foot goes up through the refrain and is still on its way when the verse comes.
  const roll = seeded(77);
  pedal.control(0, 9, 11, 90);
  const [from, to] = [9 * BAR, 16 * BAR];
  const step = PPQ * (bpm / 60 / 500);
  for (let k = 0; from + k * step < to; k++) {
    const at = (k * step) / (to - from);
    const value = 40 + 80 * Math.sin((Math.PI * at) / 1.6) + roll(3) - 1;
    pedal.control(
      Math.round(from + k * step),
      9,
      11,
      Math.max(0, Math.min(127, Math.round(value))),
    );
  }
  pedal.control(22 * BAR, 9, 11, 20).control(22 * BAR + 480, 9, 11, 110);
  return smf(1, PPQ, [conductor, wire, bass, pedal], 32 * BAR);
}

/**
 * A show for the gallery, drawn with a mouse: fades as dense as the hand was fast, lamps that jump,
 * lamps that are left on; and a hand that plays lamps as keys.
 */
export function alongTheGallery(): Uint8Array {
  const bpm = 72;
  const conductor = new Track('Along the gallery')
    .tempo(0, bpm)
    .meter(0, 4, 4)
    .marker(0, 'Dusk')
    .marker(4 * BAR, 'Row by row')
    .marker(8 * BAR, 'The long way home')
    .marker(12 * BAR, 'Dark');
  const lamps = [
    ...Array.from({ length: 12 }, (_, i) => 20 + i),
    ...Array.from({ length: 12 }, (_, i) => 52 + i),
  ];
  const levels = new Track('Gallery levels');
  const fade = (
    lamp: number,
    tick: number,
    seconds: number,
    low: number,
    high: number,
    rate: number,
  ) => {
    const n = Math.max(1, Math.round(seconds * rate));
    for (let k = 0; k <= n; k++)
      levels.control(
        tick + ticks((seconds * k) / n, bpm),
        14,
        lamps[lamp]!,
        Math.round(low + ((high - low) * k) / n),
      );
  };
  // Dusk: four lamps come up slowly, one after the other, at a hundred values a second.
  for (let lamp = 0; lamp < 4; lamp++) fade(lamp, lamp * BAR, 3, 0, 90, 100);
  // Row by row: six lamps at once, up and down, far denser than the bank takes in all.
  for (let row = 0; row < 4; row++)
    for (let lamp = 0; lamp < 6; lamp++) {
      fade(row * 6 + lamp, (4 + row) * BAR, 1.4, row === 0 && lamp < 4 ? 90 : 0, 120, 80);
      fade(row * 6 + lamp, (4 + row) * BAR + ticks(1.6, bpm), 1.2, 120, 0, 80);
    }
  // The long way home: lamps that are simply there.
  for (let lamp = 6; lamp < 18; lamp++)
    levels
      .control(8 * BAR + lamp * 240, 14, lamps[lamp]!, 127)
      .control(9 * BAR + lamp * 240, 14, lamps[lamp]!, 30);
  // Dark: all go down but two, which nobody remembered.
  for (let lamp = 6; lamp < 16; lamp++) fade(lamp, 12 * BAR, 2, 30, 0, 30);
  const keys = new Track('Lamp keys');
  wander(63, 32, 12, 3).forEach((step, i) => {
    if (step !== null) keys.note(1, 10 * BAR + i * 120, 100, 60 + step, 60 + (i % 5) * 12);
  });
  return smf(1, PPQ, [conductor, levels, keys], 14 * BAR);
}
