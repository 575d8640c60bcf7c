import * as Comlink from 'comlink';
import type { Samples } from '../../core/sound/samples';
import type { RunningCall } from '../../worker/client';
import type { ListenReply } from '../../worker/protocol';
import { soundEngine } from './engine';

export const LARGEST_SOUND_BYTES = 512 * 1024 * 1024;

/** What is said of one that is larger. */
export const sayTooLarge = (name: string) =>
  `${name}: the file is larger than 512 MB. Cut the recording into pieces.`;

/** What only the browser can decode: at its own rate, which is then that of the recording here. */
async function decodedByBrowser(bytes: ArrayBuffer): Promise<Samples | null> {
  try {
    const rate = 48_000;
    const buffer = await new OfflineAudioContext(2, 1, rate).decodeAudioData(bytes);
    const channels = Array.from({ length: buffer.numberOfChannels }, (_, c) =>
      buffer.getChannelData(c),
    );
    return { rate: buffer.sampleRate, channels };
  } catch {
    return null;
  }
}

/**
 * Listens to a recording, by what the engine decodes and then by what the browser does.
 *
 * @param read gives the bytes anew: they are handed over, so that they are held once
 * @param runs is told of each call, so that it can be given up
 * @returns null where it was given up
 */
export async function listenTo(
  read: () => Promise<ArrayBuffer>,
  runs: (call: RunningCall<ListenReply>) => void,
  progress: (done: number, total: number) => void = () => {},
): Promise<ListenReply | null> {
  const ask = (bytes: ArrayBuffer, samples?: Samples) => {
    const request = samples ? { bytes, samples } : { bytes };
    const given = Comlink.transfer(request, [bytes]);
    const call = soundEngine().ask('listen', given, progress);
    runs(call);
    return call.result;
  };
  const reply = await ask(await read());
  if (!reply || reply.ok) return reply;
  const samples = await decodedByBrowser(await read());
  return samples ? ask(await read(), samples) : reply;
}
