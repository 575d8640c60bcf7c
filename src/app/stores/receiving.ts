import { useRafFn } from '@vueuse/core';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import type { LinkHeard } from '../../core/standin/link';
import type { ReceiveReply } from '../../worker/protocol';
import { Microphone } from '../audio/microphone';
import { soundEngine } from './engine';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';

/** How often what the microphone heard is listened to, milliseconds. */
const EVERY_MS = 1500;

/** The far end of the sound link: the delivered sound as it runs, or what a microphone hears. */
export const useReceiving = defineJobPart(() => {
  const job = useJob();
  const from = ref<'rest' | 'sound' | 'microphone'>('rest');
  const problem = ref<string | null>(null);
  const heard = shallowRef<LinkHeard | null>(null);
  /** Seconds that were listened to, and 0–1 how loud it is. */
  const seconds = ref(0);
  const lengthSeconds = ref<number | null>(null);
  const level = ref(0);
  let memory: ReceiveReply['memory'] = [];
  let round = 0;

  const ask = (samples: Float32Array | null, rate: number) => {
    const request = job.request();
    if (!request) return Promise.resolve(null);
    return soundEngine().ask('receive', { ...request, known: [], samples, rate, memory }).result;
  };

  /** Frames up to now: those that came through, and those whose sum was another. */
  const frames = computed(() => {
    const ms = seconds.value * 1000;
    const up = (heard.value?.frames ?? []).filter((f) => f.endMs <= ms);
    const good = new Set(up.flatMap((f) => (f.number === null ? [] : [f.number])));
    return { good: good.size, bad: up.filter((f) => f.number === null).length };
  });
  const total = computed(() => heard.value?.total ?? null);
  const over = computed(
    () =>
      heard.value !== null &&
      (from.value === 'microphone'
        ? heard.value.problem === null
        : seconds.value >= (lengthSeconds.value ?? 0)),
  );
  const says = computed(() => {
    const h = heard.value;
    if (!h) return from.value === 'microphone' ? 'Listens for the leader.' : '';
    if (!over.value && from.value === 'sound') return 'Receives.';
    if (h.problem !== null) return h.problem;
    const patterns = `${h.patterns} ${h.patterns === 1 ? 'pattern' : 'patterns'}`;
    return `Done: ${patterns}, ${h.files.length} files, at ${(h.speed * 100).toFixed(1)} % of its speed.`;
  });

  function rest() {
    round++;
    from.value = 'rest';
    stopSound();
    microphone?.close();
    microphone = null;
    level.value = 0;
  }

  onScopeDispose(rest);

  // --- the delivered sound ----------------------------------------------------------------------
  let context: AudioContext | null = null;
  function stopSound() {
    void context?.close();
    context = null;
  }
  /** Runs the delivered sound, heard as well; or at once, without waiting for it. */
  async function hear(atOnce: boolean) {
    rest();
    const mine = round;
    problem.value = null;
    heard.value = null;
    memory = [];
    from.value = 'sound';
    const reply = await ask(null, 44_100).catch((e: Error) => {
      problem.value = e.message;
      return null;
    });
    if (mine !== round) return;
    if (!reply?.sound) {
      problem.value ??= 'No sound link is delivered.';
      return rest();
    }
    const { samples, rate } = reply.sound;
    heard.value = reply.heard;
    lengthSeconds.value = samples.length / rate;
    if (atOnce) {
      seconds.value = lengthSeconds.value;
      return;
    }
    context = new AudioContext();
    const buffer = context.createBuffer(1, samples.length, rate);
    buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, 0);
    const node = new AudioBufferSourceNode(context, { buffer });
    // The link is loud and shrill.
    node.connect(new GainNode(context, { gain: 0.2 })).connect(context.destination);
    await context.resume();
    const began = context.currentTime;
    node.start();
    const { pause } = useRafFn(() => {
      if (mine !== round || !context) return pause();
      seconds.value = Math.min(lengthSeconds.value!, context.currentTime - began);
      const at = Math.floor(seconds.value * rate);
      let most = 0;
      for (let i = Math.max(0, at - 2000); i < at; i++)
        most = Math.max(most, Math.abs(samples[i]!));
      level.value = most;
      if (seconds.value < lengthSeconds.value!) return;
      pause();
      stopSound();
    });
  }

  // --- a microphone -----------------------------------------------------------------------------
  let microphone: Microphone | null = null;
  async function listen() {
    rest();
    const mine = round;
    problem.value = null;
    heard.value = null;
    memory = [];
    lengthSeconds.value = null;
    seconds.value = 0;
    from.value = 'microphone';
    try {
      const opened = await Microphone.open(() => {
        if (!microphone) return;
        seconds.value = microphone.seconds;
        level.value = microphone.level;
      });
      if (mine !== round) return opened.close();
      microphone = opened;
    } catch (error) {
      problem.value = `The microphone cannot be used: ${(error as Error).message}`;
      return rest();
    }
    while (mine === round) {
      await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
      if (mine !== round || !microphone) return;
      const reply = await ask(microphone.samples, microphone.rate).catch(() => null);
      if (mine !== round) return;
      if (!reply) continue;
      heard.value = reply.heard;
      // What came through garbled may come through at the next pass: nothing is asked twice.
      memory = reply.memory;
      if (reply.heard.problem === null) {
        microphone.close();
        microphone = null;
        return;
      }
    }
  }

  return {
    from,
    problem,
    heard,
    frames,
    total,
    over,
    says,
    seconds,
    lengthSeconds,
    level,
    hear,
    listen,
    rest,
  };
});
