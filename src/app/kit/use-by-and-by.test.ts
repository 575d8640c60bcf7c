import { mount } from '@vue/test-utils';
import { describe, expect, it, onTestFinished } from 'vitest';
import { defineComponent, nextTick } from 'vue';
import { eventually } from '../../../testing/eventually';
import { useByAndBy } from './use-by-and-by';

/** A list of so many, three a frame; tells how many stood after each rendering. */
function list(total: number) {
  const stood: number[] = [];
  const wrapper = mount(
    defineComponent({
      props: { total: { type: Number, required: true } },
      setup(props) {
        const shown = useByAndBy(() => props.total, 3);
        return () => {
          stood.push(shown.value);
          return String(shown.value);
        };
      },
    }),
    { props: { total } },
  );
  onTestFinished(() => wrapper.unmount());
  return { wrapper, stood };
}

describe('a list that is set up by and by', () => {
  it('has some more each frame, until all are there', async () => {
    const { wrapper, stood } = list(8);
    await eventually(() => expect(wrapper.text()).toBe('8'));
    expect(stood).toEqual([0, 3, 6, 8]);
  });
  it('has a few that are added at once where all stood, and fewer where some are gone', async () => {
    const { wrapper, stood } = list(4);
    await eventually(() => expect(wrapper.text()).toBe('4'));
    await wrapper.setProps({ total: 6 });
    expect(wrapper.text()).toBe('6');
    await wrapper.setProps({ total: 5 });
    expect(wrapper.text()).toBe('5');
    stood.length = 0;
    // Many come by and by again.
    await wrapper.setProps({ total: 16 });
    expect(wrapper.text()).toBe('5');
    await eventually(() => expect(wrapper.text()).toBe('16'));
    expect(stood).toEqual([5, 8, 11, 14, 16]);
  });
  it('asks for nothing more when it is gone', async () => {
    const { wrapper, stood } = list(30);
    wrapper.unmount();
    const before = stood.length;
    await nextTick();
    await new Promise((done) => requestAnimationFrame(done));
    expect(stood.length).toBe(before);
  });
});
