import 'fake-indexeddb/auto';
import { NInputNumber, NSelect } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../../testing/eventually';
import { button, mounted } from '../../../../testing/mounted';
import { atRest, emptyBase, openJob } from '../../../../testing/open-job';
import { useJob } from '../../stores/job';
import { useModule } from '../../stores/module';
import { useSettings } from '../../stores/settings';
import ModuleDesk from './ModuleDesk.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

async function desk() {
  await openJob('demo-eel-market', 'parlour-keyboard');
  const { wrapper } = await mounted(ModuleDesk);
  await eventually(() => expect(wrapper.findAll('.sample').length).toBe(7));
  return wrapper;
}
const parts = () => useJob().shown!.source.parts;
const part = (name: string) => parts().find((p) => p.name === name)!;

describe('the module desk', () => {
  it('has every sample with its role, its reason, and where it is used', async () => {
    const wrapper = await desk();
    const bass = wrapper.findAll('.sample')[0]!;
    expect(bass.text()).toContain('Bollard bass in G');
    expect(bass.text()).toMatch(/Seems to be\s+bass: so its name says/);
    expect(bass.text()).toContain('17 semitones lower than written');
    expect(wrapper.text()).toContain('goes round to order 0');
  });

  it('puts a sample where it sounds, as a change that can be undone', async () => {
    const wrapper = await desk();
    const before = part('Bollard bass in G').columns.noteNumber[0]!;
    await button(wrapper, 'Put it there').trigger('click');
    await atRest();
    expect(part('Bollard bass in G').columns.noteNumber[0]).toBe(before - 17);
    useJob().undo();
    await atRest();
    expect(part('Bollard bass in G').columns.noteNumber[0]).toBe(before);
  });

  it('a role that is chosen moves the sample to the drums, and the others stay', async () => {
    const wrapper = await desk();
    const channels = () => new Map(parts().map((p) => [p.name, p.channel]));
    const before = channels();
    const chord = wrapper.findAll('.sample')[1]!;
    chord.findComponent(NSelect).vm.$emit('update:value', 'snare');
    await atRest();
    expect(part('Jetty minor chord').channel).toBe(10);
    for (const [name, channel] of channels())
      if (name !== 'Jetty minor chord') expect(channel, name).toBe(before.get(name));
  });

  it('says what each way gives before it is chosen, and a way does what it says', async () => {
    const wrapper = await desk();
    const pitch = wrapper
      .findAllComponents(NSelect)
      .find((s) => s.attributes('aria-label') === 'Slides of pitch')!;
    const options = pitch.props('options') as { value: string; label: string }[];
    const notes = Number(/(\d+) notes/.exec(options.find((o) => o.value === 'notes')!.label)![1]);
    pitch.vm.$emit('update:value', 'notes');
    await atRest();
    expect(parts().reduce((n, p) => n + p.columns.count, 0)).toBe(notes);
  });

  it('rows a beat make the bars', async () => {
    const wrapper = await desk();
    const bars = () => useJob().source!.inventory.bars;
    const before = bars();
    wrapper.findAllComponents(NInputNumber)[0]!.vm.$emit('update:value', 8);
    await atRest();
    expect(bars()).toBe(before / 2);
  });

  it('A is the module alone, B the MIDI alone', async () => {
    await desk();
    const module = useModule();
    const { levels } = useSettings();
    module.hearAs('a');
    expect([levels.score, levels.recording]).toEqual([0, 80]);
    module.hearAs('b');
    expect([levels.score, levels.recording]).toEqual([80, 0]);
    module.hearAs('both');
    expect(module.heard).toBe('both');
  });
});
