import * as Comlink from 'comlink';
import type { Checkpoint } from '../core/diagnostic/checkpoint';
import { bounded, decodeSound } from '../core/sound/decode';
import { factsOf } from '../core/sound/facts';
import { align } from '../core/sound/align/align';
import { peaksOf } from '../core/sound/peaks';
import { lengthMs, type Samples } from '../core/sound/samples';
import { deliveredEnd } from '../core/reading/ends';
import { mapsOf } from '../core/score/inventory';
import type { Piece } from '../core/score/piece';
import { layoutFor } from '../core/sound/beside';
import { samePart } from '../core/score/address';
import type { LoudnessMeter } from '../core/sound/loudness';
import { SILENT_DB } from '../core/sound/levels';
import { clickBeside, clicksOf, renderClicks, withCountIn } from '../core/sound/click';
import { endOf } from '../core/sound/edits';
import { renderSound, writeWave } from '../core/sound/render';
import { hearLink } from '../core/standin/link';
import type { DeliveredFile } from '../core/standin/played';
import { toSchedule } from '../core/wire/to-view';
import { HOP_MS, heardFeatures, type Features } from '../core/sound/align/frames';
import { ownFeatures } from '../core/sources/module/own-features';
import { sha256, type Known } from './known';
import type {
  LineUpReply,
  LineUpRequest,
  ListenReply,
  LoudnessRequest,
  ListenRequest,
  MadeSound,
  MakeSoundRequest,
  ReceiveReply,
  ReceiveRequest,
} from './protocol';

/** Memory that the sound thread and this one hold at once, where it can be shared. */
const sharedColumn = (frames: number): Float32Array =>
  new Float32Array(new SharedArrayBuffer(frames * 4));

/** Samples in shared memory; what was decoded into it is not copied again. */
function shared({ rate, channels }: Samples): Samples {
  if (!globalThis.crossOriginIsolated) return { rate, channels };
  return {
    rate,
    channels: channels.map((channel) => {
      if (channel.buffer instanceof SharedArrayBuffer) return channel;
      const to = sharedColumn(channel.length);
      to.set(channel);
      return to;
    }),
  };
}

/** Decodes and measures a recording; what went wrong comes back as a sentence. */
export async function listenTo(
  request: ListenRequest,
  checkpoint: Checkpoint,
): Promise<ListenReply> {
  const whole =
    (from: number, share: number): Checkpoint =>
    (done, total) =>
      checkpoint(from + (share * done) / Math.max(1, total), 1);
  const hash = await sha256(new Uint8Array(request.bytes));
  const decoded = request.samples
    ? bounded({ samples: request.samples, doubts: [] })
    : await decodeSound(
        new Uint8Array(request.bytes),
        whole(0, 0.3),
        globalThis.crossOriginIsolated ? sharedColumn : undefined,
      );
  if (!decoded.samples) return { ok: false, problem: decoded.problem };
  const { samples, doubts } = decoded;
  const facts = factsOf(samples, whole(0.3, 0.6));
  const peaks = peaksOf(samples, whole(0.9, 0.1));
  const reply: ListenReply = {
    ok: true,
    sha256: hash,
    facts,
    peaks,
    doubts,
    samples: shared(samples),
  };
  // What cannot be shared is handed over: it is not kept here.
  const columns = globalThis.crossOriginIsolated ? [] : samples.channels.map((c) => c.buffer);
  return Comlink.transfer(reply, columns as ArrayBuffer[]);
}

/** Where a recording lies beside notes; told in one of three ways, or in the simplest that explains it. */
export function lineUpWith(
  request: LineUpRequest,
  sourceOf: Known['sourceOf'],
  checkpoint: Checkpoint,
): LineUpReply {
  const { fromMs, toMs, key, velocity, scoreMs, onsets, features } = request;
  const notes = Array.from(fromMs, (from, i) => ({
    fromMs: from,
    toMs: toMs[i]!,
    key: key[i]! & 127,
    velocity: velocity[i]!,
    drum: key[i]! > 127,
  }));
  const like = likeModule(request, sourceOf, checkpoint);
  const found = align({ notes, scoreMs, onsets, features, like, checkpoint });
  if (!found) return null;
  const simplest = ({ offset: 'offset', tempo: 'tempo', wander: 'freely' } as const)[found.kind];
  const how = request.how ?? simplest;
  const { offset, line, share, confidence, places, jumps, doubt } = found;
  const where = {
    offset: { offsetMs: offset, ratio: 1 },
    tempo: { offsetMs: line.offset, ratio: line.ratio },
    freely: { offsetMs: places[0] ? places[0].soundMs - places[0].scoreMs : offset, ratio: null },
  }[how];
  return { how, ...where, share, confidence, pairs: places, jumps, doubt };
}

/** What the score sounds like, where it is that of a module. */
function likeModule(
  { module, scoreMs }: LineUpRequest,
  sourceOf: Known['sourceOf'],
  checkpoint: Checkpoint,
): Features | undefined {
  const known = module && sourceOf(module.source).extras?.module;
  const own = known && ownFeatures(known, checkpoint);
  if (!own) return undefined;
  return heardFeatures(own, scoreMs, (ms) => {
    const came = module.cameMs[Math.floor(ms / HOP_MS)] ?? NaN;
    return Number.isNaN(came) ? null : came;
  });
}

const GUIDE_RATE = 44_100;

/** A click, a click beside the recording, or the score as a bank sounds it; a WAV of exact length. */
export async function makeSound(
  piece: Piece,
  { make, samples, length, bits }: MakeSoundRequest,
  checkpoint: Checkpoint,
): Promise<MadeSound> {
  const { clock, bars } = mapsOf(piece.score);
  const end = deliveredEnd(piece);
  const layout = samples ? layoutFor(piece, lengthMs(samples)) : [];
  const scoreMs = clock.msAt(end);
  const ms = length === 'recording' && samples ? endOf(layout) / 1000 : scoreMs;
  const clicks = clicksOf(bars, clock, end);
  let sound: Samples;
  if (make.is === 'click-beside' && samples) {
    const recording = piece.sound ? renderSound(samples, layout, checkpoint) : samples;
    sound = clickBeside(recording, clicks);
  } else if (make.is === 'guide') {
    const { renderGuide } = await import('../core/sound/guide');
    const schedule = toSchedule(piece, { leftOutToo: false });
    const options = { rate: GUIDE_RATE, lengthMs: ms, checkpoint };
    sound = await renderGuide(schedule, make.bank, options);
  } else {
    const countIn = make.is === 'click' ? make.countIn : 0;
    const counted = withCountIn(clicks, bars, clock, countIn);
    sound = renderClicks(counted.clicks, GUIDE_RATE, ms + counted.laterMs);
  }
  const { bytes, clipped } = writeWave(sound, bits);
  return { bytes, ms: lengthMs(sound), clipped };
}

let meter: { readonly bank: string; readonly loud: Promise<LoudnessMeter> } | null = null;

/** How loud a part of a piece is; null where the bank that sounds has to be sent first. */
export async function loudnessFor(
  piece: Piece,
  { part, fromMs, toMs, bankName, bank }: LoudnessRequest,
  checkpoint: Checkpoint,
): Promise<number | null> {
  if (meter?.bank !== bankName) {
    if (!bank) return null;
    const { LoudnessMeter } = await import('../core/sound/loudness');
    meter = { bank: bankName, loud: LoudnessMeter.of(bank) };
  }
  const index = piece.score.parts.findIndex((p) => samePart(p.ref, part));
  if (index < 0) return SILENT_DB;
  const schedule = toSchedule(piece, { leftOutToo: false });
  return (await meter.loud).of(schedule, index, { fromMs, toMs }, checkpoint);
}

/** The sound of the link among what is delivered, as one channel. */
export function linkSound(files: readonly DeliveredFile[]): ReceiveReply['sound'] {
  const wav = files.find((f) => f.path.endsWith('-link.wav'));
  if (!wav) return null;
  const view = new DataView(wav.bytes.buffer, wav.bytes.byteOffset, wav.bytes.byteLength);
  const samples = Float32Array.from(
    { length: (wav.bytes.length - 44) >> 1 },
    (_, i) => view.getInt16(44 + i * 2, true) / 32_768,
  );
  return { samples, rate: view.getUint32(24, true) };
}

/** Listens as the far end of the link does; frames that came through before are kept. */
export function receive(request: ReceiveRequest, sound: ReceiveReply['sound']): ReceiveReply {
  const memory = new Map(request.memory);
  const samples = request.samples ?? sound?.samples ?? new Float32Array(0);
  const heard = hearLink(samples, sound?.rate ?? request.rate, memory);
  return { sound, heard, memory: [...memory] };
}
