import { defineStore } from 'pinia';
import { computed, reactive, ref, shallowRef, watch } from 'vue';
import { MidiPorts, type InputMessage, type PortInfo } from '../port/midi';
import { db } from '../storage/db';
import { usePlaying } from './playing';

export const LEAST_DELAY_MS = -100;
export const MOST_DELAY_MS = 1000;

interface Kept {
  readonly delays?: Readonly<Record<string, number>>;
  readonly builtInToo?: boolean;
}

/**
 * A MIDI port beside the built-in sound. Nothing is asked of the browser before the user clicks;
 * a port that is unplugged is taken up again when it is back, by its name.
 */
export const usePort = defineStore('port', () => {
  const playing = usePlaying();
  const state = ref<'unasked' | 'asking' | 'open' | 'refused' | 'missing'>(
    MidiPorts.possible ? 'unasked' : 'missing',
  );
  const why = ref('');
  const outputs = shallowRef<readonly PortInfo[]>([]);
  const inputs = shallowRef<readonly PortInfo[]>([]);
  /** By name, so that it is known again when it is plugged in anew. */
  const outName = ref<string | null>(null);
  const inName = ref<string | null>(null);
  const delays = reactive<Record<string, number>>({});
  const builtInToo = ref(false);
  const exclusives = ref(false);
  let ports: MidiPorts | null = null;

  const output = computed(() => outputs.value.find((p) => p.name === outName.value) ?? null);
  const input = computed(() => inputs.value.find((p) => p.name === inName.value) ?? null);
  /** It was chosen and is not plugged in. */
  const gone = computed(() => outName.value !== null && output.value === null);
  const delayMs = computed({
    get: () => (outName.value === null ? 0 : (delays[outName.value] ?? 0)),
    set: (ms) => {
      if (outName.value !== null)
        delays[outName.value] = Math.max(LEAST_DELAY_MS, Math.min(MOST_DELAY_MS, Math.round(ms)));
    },
  });

  void db.settings
    .get('port')
    .then((row) => {
      const kept = (row?.value ?? {}) as Kept;
      Object.assign(delays, kept.delays ?? {});
      builtInToo.value = kept.builtInToo ?? false;
    })
    .catch(() => undefined);
  watch([delays, builtInToo], () => {
    const value: Kept = { delays: { ...delays }, builtInToo: builtInToo.value };
    db.settings.put({ key: 'port', value }).catch(() => undefined);
  });

  function look() {
    outputs.value = ports?.outputs ?? [];
    inputs.value = ports?.inputs ?? [];
  }

  /** Asks the browser for its ports: on a click, and again where exclusives are to be sent. */
  async function ask(): Promise<void> {
    if (!MidiPorts.possible || state.value === 'asking') return;
    state.value = 'asking';
    try {
      ports = await MidiPorts.ask({ sysex: exclusives.value });
      ports.onChange(look);
      look();
      state.value = 'open';
    } catch (error) {
      state.value = 'refused';
      why.value = (error as Error).message;
    }
  }

  async function allowExclusives(on: boolean) {
    exclusives.value = on;
    await ask();
    // Refused: the ports go on without.
    if (on && state.value === 'refused') {
      exclusives.value = false;
      await ask();
    }
  }

  const options = () => ({
    delayMs: delayMs.value,
    builtInToo: builtInToo.value,
    exclusives: exclusives.value,
  });
  watch([() => output.value?.id ?? null, state], ([id]) => {
    playing.usePort(id === null ? null : (ports?.out(id) ?? null), options());
  });
  watch([delayMs, builtInToo, exclusives], () => playing.setPort(options()));

  // --- what comes in --------------------------------------------------------------------------
  const hearers = new Set<(message: InputMessage) => void>();
  const lastIn = ref<string | null>(null);
  let deaf = () => {};
  watch([() => input.value?.id ?? null, state], ([id]) => {
    deaf();
    deaf =
      id === null || !ports
        ? () => {}
        : ports.listen(id, (message) => {
            lastIn.value = message.bytes.map((b) => b.toString(16).padStart(2, '0')).join(' ');
            for (const hear of hearers) hear(message);
          });
  });
  /** Keys and pads that are struck at the input; ends with what is returned. */
  function onInput(hear: (message: InputMessage) => void): () => void {
    hearers.add(hear);
    return () => void hearers.delete(hear);
  }

  const panic = () => playing.panicPort();
  if (typeof window !== 'undefined') window.addEventListener('pagehide', panic);

  return {
    state,
    why,
    outputs,
    inputs,
    outName,
    inName,
    output,
    input,
    gone,
    delayMs,
    builtInToo,
    exclusives,
    lastIn,
    ask,
    allowExclusives,
    test: (channel: number) => playing.testPort(channel),
    panic,
    onInput,
  };
});
