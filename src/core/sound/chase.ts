import type { Sounder } from './transport';

/** What a channel was told last, so that a device can be told the same before it plays on. */
interface ChannelState {
  program: number | null;
  pressure: number | null;
  bend: number | null;
  /** Values by controller, in the order in which each was first told. */
  readonly controls: Map<number, number>;
  /** Data of each parameter by what selects it; MIDI 1.0, "Registered Parameter Numbers". */
  readonly parameters: Map<string, ParameterState>;
  selected: string | null;
  /** Halves of a selection that is not whole yet. */
  readonly half: Map<number, number>;
}
interface ParameterState {
  readonly select: readonly (readonly [number, number])[];
  coarse: number | null;
  fine: number | null;
}

const DATA_COARSE = 6;
const DATA_FINE = 38;
const BANKS = [0, 32];
/** Controllers of 120 and more are orders, no state. */
const FIRST_ORDER = 120;

/**
 * Gathers what is set before the place where the music goes on, and tells only the last of each:
 * banks before programs, parameters with what selects them, no note of the past.
 */
export class Chase implements Sounder {
  private readonly channels = new Map<number, ChannelState>();

  private of(channel: number): ChannelState {
    let state = this.channels.get(channel);
    if (!state) {
      state = {
        program: null,
        pressure: null,
        bend: null,
        controls: new Map(),
        parameters: new Map(),
        selected: null,
        half: new Map(),
      };
      this.channels.set(channel, state);
    }
    return state;
  }

  noteOn() {}
  noteOff() {}
  keyPressure() {}
  silence() {}
  reset() {
    this.channels.clear();
  }
  program(channel: number, program: number) {
    this.of(channel).program = program;
  }
  pressure(channel: number, value: number) {
    this.of(channel).pressure = value;
  }
  bend(channel: number, value: number) {
    this.of(channel).bend = value;
  }

  control(channel: number, controller: number, value: number) {
    const state = this.of(channel);
    if (controller >= 98 && controller <= 101) return select(state, controller, value);
    const parameter = state.selected === null ? null : state.parameters.get(state.selected);
    if (controller === DATA_COARSE && parameter) parameter.coarse = value;
    else if (controller === DATA_FINE && parameter) parameter.fine = value;
    else if (controller === 121) state.controls.clear();
    else if (controller < FIRST_ORDER) state.controls.set(controller, value);
  }

  /** Tells another what was gathered. */
  tell(to: Sounder) {
    for (const [channel, state] of this.channels) {
      for (const bank of BANKS) {
        const value = state.controls.get(bank);
        if (value !== undefined) to.control(channel, bank, value);
      }
      if (state.program !== null) to.program(channel, state.program);
      for (const [controller, value] of state.controls)
        if (!BANKS.includes(controller)) to.control(channel, controller, value);
      for (const { select: numbers, coarse, fine } of state.parameters.values()) {
        if (coarse === null && fine === null) continue;
        for (const [controller, value] of numbers) to.control(channel, controller, value);
        if (coarse !== null) to.control(channel, DATA_COARSE, coarse);
        if (fine !== null) to.control(channel, DATA_FINE, fine);
      }
      const last = state.selected === null ? null : state.parameters.get(state.selected);
      for (const [controller, value] of last?.select ?? []) to.control(channel, controller, value);
      if (state.bend !== null) to.bend(channel, state.bend);
      if (state.pressure !== null) to.pressure(channel, state.pressure);
    }
  }
}

/** 101 and 100 select a registered parameter, 99 and 98 another; both halves make one. */
function select(state: ChannelState, controller: number, value: number) {
  const pair = controller >= 100 ? [101, 100] : [99, 98];
  for (const other of state.half.keys()) if (!pair.includes(other)) state.half.delete(other);
  state.half.set(controller, value);
  const numbers = pair.flatMap((c) =>
    state.half.has(c) ? [[c, state.half.get(c)!] as const] : [],
  );
  if (numbers.length < 2) return;
  const key = numbers.map(([c, v]) => `${c}:${v}`).join();
  state.selected = key;
  if (!state.parameters.has(key))
    state.parameters.set(key, { select: numbers, coarse: null, fine: null });
}
