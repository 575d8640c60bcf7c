import { mount } from '@vue/test-utils';
import { NInputNumber, NSelect } from 'naive-ui';
import { describe, expect, it, onTestFinished } from 'vitest';
import { eventually } from '../../../testing/eventually';
import { findTarget } from '../../core/target/index';
import KeyboardDrawing from './KeyboardDrawing.vue';
import SchemaFields from './SchemaFields.vue';
import { targetShape } from './schema-fields';

const loft = JSON.parse(JSON.stringify(findTarget('bell-loft'))) as Record<string, unknown>;
/** Fields are set up some a frame; the way to more of them stands behind the last. */
async function fields(learnt: string[] = [], problems: [string, string][] = [], value = loft) {
  const wrapper = mount(SchemaFields, {
    props: {
      shape: targetShape,
      value,
      path: '',
      learnt: new Set(learnt),
      problems: new Map(problems),
      hidden: ['schemaVersion', 'id', 'version'],
    },
  });
  onTestFinished(() => wrapper.unmount());
  await eventually(() => expect(wrapper.find('[aria-busy="true"]').exists()).toBe(false));
  return wrapper;
}
const last = (wrapper: Awaited<ReturnType<typeof fields>>) =>
  wrapper.emitted('change')!.at(-1) as [Record<string, never>, string];

describe('fields of a target', () => {
  it('a number that is changed gives the whole target anew, with its path', async () => {
    const wrapper = await fields();
    const apart = wrapper
      .findAllComponents(NInputNumber)
      .find((c) => c.props('inputProps')?.['aria-label'] === 'Same key apart')!;
    expect(apart.props('value')).toBe(180);
    apart.vm.$emit('update:value', 200);
    const [next, path] = last(wrapper);
    expect(path).toBe('spacing.sameKeyApartMs');
    expect(next['spacing']).toEqual({ sameKeyApartMs: 200 });
    expect(loft['spacing']).toEqual({ sameKeyApartMs: 180 });
  });
  it('a field that is emptied is taken away, a block as a whole too', async () => {
    const wrapper = await fields();
    const most = wrapper
      .findAllComponents(NInputNumber)
      .find((c) => c.props('inputProps')?.['aria-label'] === 'Most events')!;
    most.vm.$emit('update:value', null);
    expect(last(wrapper)[0]['tempo']).toEqual({ lowestBpm: 30, highestBpm: 160 });
    const legend = wrapper.findAll('legend').find((l) => l.text().startsWith('Tempo'))!;
    await legend.find('button').trigger('click');
    expect('tempo' in last(wrapper)[0]).toBe(false);
  });
  it('a block that is not there can be added', async () => {
    const wrapper = await fields();
    const more = wrapper
      .findAllComponents(NSelect)
      .filter((c) => c.classes('more'))
      .at(-1)!;
    more.vm.$emit('update:value', 'chart');
    expect(last(wrapper)[0]['chart']).toEqual({});
  });
  it('a seat is added, and taken away', async () => {
    const wrapper = await fields();
    const legend = wrapper.findAll('legend').find((l) => l.text().startsWith('Seats'))!;
    await legend.find('button').trigger('click');
    expect(last(wrapper)[0]['seats']).toHaveLength(2);
  });
  it('what is in a seat is made when it is opened', async () => {
    const two = {
      ...loft,
      seats: [...(loft['seats'] as object[]), { kind: 'channel', channel: 2 }],
    };
    const wrapper = await fields([], [], two);
    const seat = wrapper.findAll('details').find((d) => d.text() === '2')!;
    expect(seat.findAll('input')).toHaveLength(0);
    await seat.trigger('toggle');
    await eventually(() => expect(seat.findAll('input').length).toBeGreaterThan(3));
  });
  it('learnt numbers and problems stand beside their fields', async () => {
    const wrapper = await fields(
      ['notes.lowest'],
      [['tempo.lowestBpm', 'The lowest is above the highest.']],
    );
    expect(wrapper.findAll('.learnt')).toHaveLength(1);
    expect(wrapper.text()).toContain('The lowest is above the highest.');
  });
});

describe('a keyboard', () => {
  it('tells the keys that are there from those that are not', () => {
    const wrapper = mount(KeyboardDrawing, {
      props: { allowed: [60, 62, 64], label: 'Three keys', names: new Map([[60, 'Low bell']]) },
    });
    expect(wrapper.findAll('rect.there')).toHaveLength(3);
    expect(wrapper.findAll('rect.missing').length).toBeGreaterThan(8);
    expect(wrapper.text()).toContain('C4 (60), Low bell');
    expect(wrapper.text()).toContain('C♯4 (61): not there');
    expect(wrapper.attributes('aria-label')).toBe('Three keys');
  });
});
