import 'fake-indexeddb/auto';
import { NSelect } from 'naive-ui';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it } from 'vitest';
import { button, mounted } from '../../../testing/mounted';
import { atRest, emptyBase, openJob } from '../../../testing/open-job';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import MarginColumn from './MarginColumn.vue';
import MarginNote from './MarginNote.vue';
import PresetTable from './PresetTable.vue';
import TallyDots from './TallyDots.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});
const open = async () => {
  await openJob('demo-turn-of-the-tide', 'lantern-rail');
  const job = useJob();
  await eventually(() =>
    expect(Object.keys(job.trials).length).toBe(job.findings.filter((f) => f.mends.length).length),
  );
  return { job, looking: useLooking() };
};
const finding = (code: string) => useJob().findings.find((f) => f.code === code)!;

describe('a margin note', () => {
  it('says what is wrong, what the target will do, where, and what the first way costs', async () => {
    await open();
    const { wrapper } = await mounted(MarginNote, { props: { finding: finding('rest-owed') } });
    const text = wrapper.text();
    expect(text).toContain('This file begins at once; 3 bars are owed.');
    expect(text).toContain('every cue lands 5.625 s early');
    expect(button(wrapper, 'Put back 3 bars of rest').exists()).toBe(true);
    expect(wrapper.find('.costs').text()).toBe('loses nothing, all 5.625 s later');
  });

  it('closed it offers one way and says that there are more; opened, all with their costs', async () => {
    const { looking } = await open();
    const found = useJob().findings.find((f) => f.mends.length > 2)!;
    const { wrapper } = await mounted(MarginNote, { props: { finding: found } });
    expect(wrapper.findAll('.mend')).toHaveLength(1);
    expect(wrapper.text()).toContain(`and ${found.mends.length - 1} more ways`);
    await wrapper.find('article').trigger('click');
    expect(looking.finding).toBe(found.key);
    expect(wrapper.findAll('.mend')).toHaveLength(found.mends.length);
    for (const costs of wrapper.findAll('.costs'))
      expect(costs.text()).toMatch(/^(loses nothing|keeps every note|drops \d+ of \d+)/);
    // A way that keeps stands before one that drops.
    const drops = wrapper.findAll('.costs').map((c) => c.text().startsWith('drops'));
    expect(drops).toEqual([...drops].sort((a, b) => Number(a) - Number(b)));
  });

  it('a mend is applied by one click, and undone', async () => {
    const { job } = await open();
    const { wrapper } = await mounted(MarginNote, { props: { finding: finding('rest-owed') } });
    await button(wrapper, 'Put back 3 bars of rest').trigger('click');
    await atRest();
    expect(job.plan!.now.steps).toMatchObject([{ step: 'rest-at-start', params: { bars: 3 } }]);
    expect(finding('rest-owed')).toBeUndefined();
    job.undo();
    await atRest();
    expect(finding('rest-owed')).toBeDefined();
  });

  it('is left as is with a reason and not without, and taken back', async () => {
    const { job } = await open();
    const { wrapper } = await mounted(MarginNote, { props: { finding: finding('rest-owed') } });
    await button(wrapper, 'Leave as is…').trigger('click');
    const leave = button(wrapper, 'Leave as is');
    expect(leave.attributes('disabled')).toBeDefined();
    await wrapper.find('input').setValue('   ');
    expect(button(wrapper, 'Leave as is').attributes('disabled')).toBeDefined();
    await wrapper.find('input').setValue('The crew counts in');
    await button(wrapper, 'Leave as is').trigger('click');
    await atRest();
    expect(job.plan!.now.leftAsIs).toMatchObject([{ reason: 'The crew counts in' }]);
    await wrapper.setProps({ finding: finding('rest-owed') });
    expect(wrapper.text()).toContain('Left as is: The crew counts in');
    expect(wrapper.findAll('.mend')).toHaveLength(0);
    await button(wrapper, 'Take back').trigger('click');
    await atRest();
    expect(job.plan!.now.leftAsIs).toEqual([]);
  });

  it('the eye shows what would come, and again what is', async () => {
    const { looking } = await open();
    looking.lookAt(finding('rest-owed').key);
    const { wrapper } = await mounted(MarginNote, { props: { finding: finding('rest-owed') } });
    const eye = () => button(wrapper, 'Look at it first: Put back 3 bars');
    await eye().trigger('click');
    await eventually(() => expect(eye().attributes('aria-pressed')).toBe('true'));
    expect(looking.trial!.shiftMs).toBe(5625);
    await eye().trigger('click');
    await eventually(() => expect(eye().attributes('aria-pressed')).toBe('false'));
  });
});

describe('the margin', () => {
  it('has every note in its order; a filter that hides the one in view gives way', async () => {
    const { job, looking } = await open();
    const { wrapper } = await mounted(MarginColumn);
    const numbers = () =>
      wrapper.findAll('[data-finding]').map((n) => n.attributes('data-finding'));
    await eventually(() => expect(numbers()).toEqual(job.findings.map((f) => f.key)));
    const [severity] = wrapper.findAllComponents({ name: 'Select' });
    severity!.vm.$emit('update:value', 'remark');
    await eventually(() =>
      expect(numbers()).toEqual(
        job.findings.filter((f) => f.severity === 'remark').map((f) => f.key),
      ),
    );
    looking.lookAt(job.findings[0]!.key);
    await eventually(() => expect(numbers()).toEqual(job.findings.map((f) => f.key)));
  });

  it('arrow keys walk, the plan and the table stand behind the other tabs', async () => {
    const { job, looking } = await open();
    const { wrapper } = await mounted(MarginColumn);
    await wrapper.find('.list').trigger('keydown', { key: 'ArrowDown' });
    expect(looking.finding).toBe(job.findings[0]!.key);
    await wrapper.find('.list').trigger('keydown', { key: 'ArrowUp' });
    expect(looking.finding).toBe(job.findings.at(-1)!.key);
    const tab = (name: string) =>
      wrapper.findAll('[role="tab"]').find((t) => t.text().startsWith(name))!;
    await tab('Plan').trigger('click');
    expect(wrapper.findAll('[data-finding]')).toHaveLength(0);
    // A note that is looked at brings its tab back.
    looking.lookAt(job.findings[1]!.key);
    await eventually(() =>
      expect(wrapper.findAll('[data-finding]')).toHaveLength(job.findings.length),
    );
  });

  it('with nothing to mend it says so, and that it can be handed over', async () => {
    await openJob('demo-parlour-evening', 'cue-ledger');
    const job = useJob();
    if (job.findings.length > 0) await job.mendAll('drop', true);
    await atRest();
    for (const f of job.findings) job.leaveAsIs(f.key, 'a test', f.title);
    await atRest();
    const { wrapper } = await mounted(MarginColumn);
    expect(wrapper.text()).toMatch(/Nothing to mend|Left as is/);
  });
});

describe('the tally', () => {
  it.each([
    [{ stops: 1, cautions: 2, remarks: 0 }, false, '1 stop2 cautions'],
    [{ stops: 0, cautions: 0, remarks: 1 }, false, '1 remark'],
    [{ stops: 0, cautions: 0, remarks: 0 }, false, 'in order'],
    [{ stops: 0, cautions: 0, remarks: 0 }, true, 'not judged yet'],
  ])('%o, unsaid %s: %s', async (tally, unsaid, says) => {
    const { wrapper } = await mounted(TallyDots, { props: { tally, unsaid } });
    expect(wrapper.text().replace(/\s+/g, ' ').replaceAll(' ', '')).toBe(says.replaceAll(' ', ''));
  });
});

describe('the table of presets', () => {
  it('has a row for each marker; a choice is one step for all of them, at their lead', async () => {
    await openJob('demo-salt-in-the-wires', 'brine-box');
    const job = useJob();
    const { wrapper } = await mounted(PresetTable);
    const rows = () => wrapper.findAll('tbody tr').map((r) => r.text().replace(/\s+/g, ' '));
    expect(rows()).toHaveLength(6);
    expect(rows()[1]).toMatch(/Refrain ?9\.1, .*577 ms behind/);
    const cell = wrapper
      .findAllComponents(NSelect)
      .find((s) => s.attributes('aria-label') === 'Preset at Break')!;
    cell.vm.$emit('update:value', '2.4');
    await atRest();
    expect(job.plan!.now.steps).toMatchObject([
      {
        step: 'presets-from-markers',
        params: {
          leadMs: 78,
          table: [
            { marker: 'Verse', bank: 0, program: 0 },
            { marker: 'Refrain', bank: 1, program: 1 },
            { marker: 'Second verse', bank: 0, program: 2 },
            { marker: 'Last refrain', bank: 1, program: 7 },
            { marker: 'Break', bank: 2, program: 4 },
          ],
        },
      },
    ]);
    expect(rows()[1]).toMatch(/78 ms before/);
    expect(job.findings.some((f) => f.rule === 'preset-lead')).toBe(false);
    cell.vm.$emit('update:value', '3.0');
    await atRest();
    expect(job.plan!.now.steps).toHaveLength(1);
  });
});
