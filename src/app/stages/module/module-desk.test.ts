import 'fake-indexeddb/auto';
import { NInputNumber, NSelect } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../../../testing/eventually';
import { button, mounted } from '../../../../testing/mounted';
import { atRest, droppedFile, emptyBase, openJob } from '../../../../testing/open-job';
import { StubPlayer } from '../../../../testing/stub-player';
import { waveBytes } from '../../../core/sound/wave';
import { useJob } from '../../stores/job';
import { useLiningUp } from '../../stores/lining-up';
import { useModule } from '../../stores/module';
import { usePlaying } from '../../stores/playing';
import { useRecording } from '../../stores/recording';
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

  it('its own sound becomes the recording; A is it alone, B the MIDI, and another job hears both', async () => {
    const wrapper = await desk();
    await button(wrapper, 'Use its sound as the recording').trigger('click');
    await eventually(() => expect(useRecording().listened).not.toBeNull());
    expect(useJob().record!.sound!.name).toBe('eel-market-module.wav');
    const lengthMs = useRecording().listened!.facts.lengthMs;
    expect(Math.abs(lengthMs - useModule().view!.seconds * 1000)).toBeLessThan(1);
    await eventually(() => expect(useLiningUp().found?.reply.doubt).toBeNull());
    expect(Math.abs(useLiningUp().found!.reply.offsetMs)).toBeLessThan(12);
    const playing = usePlaying();
    const levels = () => StubPlayer.last.levels;
    playing.beside = 'recording';
    await eventually(() => expect(levels()).toEqual([0, 0.8]));
    playing.beside = 'score';
    await eventually(() => expect(levels()).toEqual([0.8, 0]));
    await openJob('demo-turn-of-the-tide', 'lantern-rail');
    expect(playing.beside).toBe('both');
  });

  it('where another recording lies beside it, nothing calls that the module', async () => {
    const wrapper = await desk();
    const wave = droppedFile('gulls.wav', waveBytes(new Int16Array(8000), 8000));
    await useRecording().bring(wave);
    await eventually(() => expect(wrapper.text()).toContain('It takes the place of gulls.wav'));
    expect(wrapper.text()).not.toContain('A: the module');
  });
});
