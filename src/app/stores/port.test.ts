import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { emptyBase } from '../../../testing/open-job';
import { StubPlayer } from '../../../testing/stub-player';
import { MidiPorts, type InputMessage, type PortInfo } from '../port/midi';
import { db } from '../storage/db';
import { usePlaying } from './playing';
import { LEAST_DELAY_MS, MOST_DELAY_MS, usePort } from './port';

const machine = {
  possible: true,
  refuses: false as boolean | 'sysex',
  outputs: [] as PortInfo[],
  inputs: [] as PortInfo[],
  asked: [] as boolean[],
  changed: () => {},
  heard: new Map<string, (m: InputMessage) => void>(),
};
const ports = {
  get outputs() {
    return [...machine.outputs];
  },
  get inputs() {
    return [...machine.inputs];
  },
  onChange: (heard: () => void) => void (machine.changed = heard),
  out: (id: string) => ({ id }),
  listen(id: string, heard: (m: InputMessage) => void) {
    machine.heard.set(id, heard);
    return () => void machine.heard.delete(id);
  },
} as never as MidiPorts;
const box: PortInfo = { id: 'o1', name: 'Quay box' };
const keys: PortInfo = { id: 'i1', name: 'Marsh keys' };

beforeEach(async () => {
  setActivePinia(createPinia());
  Object.assign(machine, {
    possible: true,
    refuses: false,
    outputs: [box],
    inputs: [keys],
    asked: [],
  });
  machine.heard.clear();
  vi.spyOn(MidiPorts, 'possible', 'get').mockImplementation(() => machine.possible);
  vi.spyOn(MidiPorts, 'ask').mockImplementation(async ({ sysex }) => {
    machine.asked.push(sysex);
    if (machine.refuses === true || (machine.refuses === 'sysex' && sysex))
      throw new Error('Permission denied.');
    return ports;
  });
  await emptyBase();
});
const open = async () => {
  usePlaying();
  const port = usePort();
  await port.ask();
  return port;
};

describe('a MIDI port', () => {
  it('is not asked for before somebody asks, and not twice at once', async () => {
    usePlaying();
    const port = usePort();
    expect([port.state, machine.asked]).toEqual(['unasked', []]);
    await Promise.all([port.ask(), port.ask()]);
    expect(machine.asked).toEqual([false]);
    expect(port.state).toBe('open');
    expect(port.outputs.map((p) => p.name)).toEqual(['Quay box']);
  });

  it('where the browser has none that is said, and nothing is asked', async () => {
    machine.possible = false;
    usePlaying();
    const port = usePort();
    expect(port.state).toBe('missing');
    await port.ask();
    expect(machine.asked).toEqual([]);
  });

  it('refused it says why, and may be asked again', async () => {
    machine.refuses = true;
    const port = await open();
    expect([port.state, port.why]).toEqual(['refused', 'Permission denied.']);
    machine.refuses = false;
    await port.ask();
    expect(port.state).toBe('open');
  });

  it('that is chosen is handed to the player, taken away, and taken up again by its name', async () => {
    const port = await open();
    port.outName = 'Quay box';
    await eventually(() => expect(StubPlayer.last.port?.port).toEqual({ id: 'o1' }));
    machine.outputs = [];
    machine.changed();
    expect(port.gone).toBe(true);
    await eventually(() => expect(StubPlayer.last.port?.port).toBeNull());
    // In another socket it has another id.
    machine.outputs = [{ id: 'o7', name: 'Quay box' }];
    machine.changed();
    await eventually(() => expect(StubPlayer.last.port?.port).toEqual({ id: 'o7' }));
    expect(port.gone).toBe(false);
  });

  it('each has a delay of its own, whole milliseconds within bounds, kept', async () => {
    const port = await open();
    port.delayMs = 40;
    expect(port.delayMs).toBe(0);
    port.outName = 'Quay box';
    port.delayMs = 12.4;
    expect(port.delayMs).toBe(12);
    await eventually(() => expect(StubPlayer.last.options).toMatchObject({ delayMs: 12 }));
    port.delayMs = 1e9;
    expect(port.delayMs).toBe(MOST_DELAY_MS);
    port.delayMs = -1e9;
    expect(port.delayMs).toBe(LEAST_DELAY_MS);
    await eventually(async () =>
      expect((await db.settings.get('port'))?.value).toMatchObject({
        delays: { 'Quay box': LEAST_DELAY_MS },
      }),
    );
    setActivePinia(createPinia());
    const again = await open();
    again.outName = 'Quay box';
    await eventually(() => expect(again.delayMs).toBe(LEAST_DELAY_MS));
  });

  it('exclusives are asked for apart; refused, the ports go on without', async () => {
    const port = await open();
    await port.allowExclusives(true);
    expect([machine.asked, port.exclusives]).toEqual([[false, true], true]);
    await port.allowExclusives(false);
    machine.refuses = 'sysex';
    await port.allowExclusives(true);
    expect(machine.asked).toEqual([false, true, false, true, false]);
    expect([port.exclusives, port.state]).toEqual([false, 'open']);
  });

  it('what comes in is heard by who listens, until he ends', async () => {
    const port = await open();
    const heard: number[][] = [];
    const end = port.onInput((m) => heard.push([...m.bytes]));
    port.inName = 'Marsh keys';
    await eventually(() => expect(machine.heard.has('i1')).toBe(true));
    machine.heard.get('i1')!({ bytes: [0x90, 60, 9], atMs: 0 });
    expect([heard, port.lastIn]).toEqual([[[0x90, 60, 9]], '90 3c 09']);
    end();
    machine.heard.get('i1')!({ bytes: [0x80, 60, 0], atMs: 0 });
    expect(heard).toHaveLength(1);
    port.inName = null;
    await eventually(() => expect(machine.heard.size).toBe(0));
  });

  it('all notes off when the page is left', async () => {
    await open();
    window.dispatchEvent(new Event('pagehide'));
    expect(StubPlayer.last.panics).toBeGreaterThan(0);
  });
});
