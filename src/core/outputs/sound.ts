import * as z from 'zod';
import { readWave, waveHead } from '../sound/wave';
import type { Loss } from '../steps/define-step';
import { defineWriter } from './define-writer';

export const soundWriter = defineWriter({
  id: 'sound',
  summary: 'The companion sound as WAV of PCM, at its own rate.',
  options: z.strictObject({}),
  write(_rendition, _options, _target, sound) {
    if (!sound)
      return {
        files: [],
        losses: [{ what: 'companion sound, which was not brought in', count: 1 }],
      };
    const wave = readWave(sound.bytes);
    if ('problem' in wave)
      return { files: [], losses: [{ what: `companion sound: ${wave.problem}`, count: 1 }] };
    const { rate, channels, bits, from, dataBytes, others, cut } = wave;
    const losses: Loss[] = [];
    // With nothing else in it the file goes out as it came.
    if (others.length === 0 && from === 44 && !cut && sound.bytes.length === 44 + dataBytes)
      return { files: [{ path: sound.name, bytes: sound.bytes }], losses };
    if (others.length > 0)
      losses.push({
        what: `chunks of the sound beside its samples (${[...new Set(others)].join(', ').trim()})`,
        count: others.length,
      });
    const out = new Uint8Array(44 + dataBytes + (dataBytes % 2));
    out.set(waveHead({ rate, channels, bits, dataBytes }));
    out.set(sound.bytes.subarray(from, from + dataBytes), 44);
    return { files: [{ path: sound.name, bytes: out }], losses };
  },
});
