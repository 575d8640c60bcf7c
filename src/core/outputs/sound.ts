import { decodeWave } from '../sound/decode-wave';
import { layoutOf } from '../sound/edits';
import { renderSound, writeWave, type WaveBits } from '../sound/render';
import { readWave, waveHead } from '../sound/wave';
import type { Loss } from '../steps/define-step';
import { companionName } from '../target/sound';
import { soundOptions } from '../target/writer-options';
import { countSound } from './counts/of-files';
import { defineWriter, type CompanionSound, type Written } from './define-writer';

/** The same dither every time: the same plan gives the same bytes. */
const DITHER_SEED = 1;

export const soundWriter = defineWriter({
  id: 'sound',
  summary: 'The companion sound as WAV of PCM, at its own rate, with what the plan does to it.',
  carries: ['sounds'],
  count: countSound,
  options: soundOptions,
  write(rendition, { bits }, _target, sound) {
    if (!sound) return nothing('companion sound, which was not brought in');
    const edits = rendition.pieces[0]?.sound ?? [];
    const wave = readWave(sound.bytes);
    if (edits.length === 0 && !('problem' in wave) && (bits === undefined || wave.bits === bits))
      return asItCame(sound, wave);
    const samples = sound.samples ?? decodeWave(sound.bytes).samples;
    if (!samples) return nothing('companion sound, which could not be decoded');
    const depth: WaveBits = bits ?? (!('problem' in wave) && wave.bits > 16 ? 24 : 16);
    const layout = layoutOf(edits, sound.lengthUs);
    const { bytes, clipped } = writeWave(renderSound(samples, layout), depth, DITHER_SEED);
    return {
      files: [{ path: companionName(sound.name), bytes }],
      losses:
        clipped > 0
          ? [
              {
                what: 'samples of the sound that were too loud, held at the loudest',
                count: clipped,
              },
            ]
          : [],
    };
  },
});

const nothing = (what: string): Written => ({ files: [], losses: [{ what, count: 1 }] });

/** Samples that nothing was done to go out bit for bit. */
function asItCame(
  sound: CompanionSound,
  wave: Exclude<ReturnType<typeof readWave>, { problem: string }>,
) {
  const { rate, channels, bits, from, dataBytes, others, cut } = wave;
  const losses: Loss[] = [];
  const path = companionName(sound.name);
  // With nothing else in it the file goes out as it came.
  if (others.length === 0 && from === 44 && !cut && sound.bytes.length === 44 + dataBytes)
    return { files: [{ path, bytes: sound.bytes }], losses };
  if (others.length > 0)
    losses.push({
      what: `chunks of the sound beside its samples (${[...new Set(others)].join(', ').trim()})`,
      count: others.length,
    });
  const out = new Uint8Array(44 + dataBytes + (dataBytes % 2));
  out.set(waveHead({ rate, channels, bits, dataBytes }));
  out.set(sound.bytes.subarray(from, from + dataBytes), 44);
  return { files: [{ path, bytes: out }], losses };
}
