import type { Input, Output, WebMidi as WebMidiType } from 'webmidi';

/** A port by its name; `there` as long as it is plugged in. */
export interface PortInfo {
  readonly id: string;
  readonly name: string;
}

export type InputMessage = { readonly bytes: readonly number[]; readonly atMs: number };

/** The ports of this machine, by Web MIDI; loaded when it is asked for. */
export class MidiPorts {
  private constructor(private readonly midi: typeof WebMidiType) {}

  static get possible(): boolean {
    return 'requestMIDIAccess' in navigator;
  }

  /** Asks the user; an error in words where that is refused. */
  static async ask(options: { sysex: boolean }): Promise<MidiPorts> {
    const { WebMidi } = await import('webmidi');
    if (WebMidi.enabled && WebMidi.sysexEnabled !== options.sysex) await WebMidi.disable();
    // Messages are sent as bytes: nothing is checked twice.
    await WebMidi.enable({ sysex: options.sysex, validation: false });
    return new MidiPorts(WebMidi);
  }

  get outputs(): PortInfo[] {
    return this.midi.outputs.map(info);
  }
  get inputs(): PortInfo[] {
    return this.midi.inputs.map(info);
  }

  onChange(heard: () => void) {
    this.midi.addListener('portschanged', heard);
  }

  /** A port to send to; times are of the page's clock, as `performance.now()` has them. */
  out(id: string) {
    const output = this.midi.getOutputById(id) as Output | undefined;
    if (!output) return null;
    return {
      send: (bytes: readonly number[], atMs: number) =>
        void output.send([...bytes], { time: atMs }),
      clear: () => void output.clear(),
    };
  }

  listen(id: string, heard: (message: InputMessage) => void): () => void {
    const input = this.midi.getInputById(id) as Input | undefined;
    if (!input) return () => {};
    const listener = (e: { message: { rawData: Uint8Array }; timestamp: number }) =>
      heard({ bytes: [...e.message.rawData], atMs: e.timestamp });
    input.addListener('midimessage', listener as never);
    return () => void input.removeListener('midimessage', listener as never);
  }
}

const info = ({ id, name }: { id: string; name: string }): PortInfo => ({ id, name });
