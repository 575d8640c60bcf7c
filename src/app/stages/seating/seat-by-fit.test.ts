import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import { bandSongs } from '../../../../demo/band-songs';
import { eventually } from '../../../../testing/eventually';
import { button, mounted } from '../../../../testing/mounted';
import { atRest, emptyBase, openSong } from '../../../../testing/open-job';
import { conductor, smf, Track } from '../../../../testing/score-builder';
import { useJob } from '../../stores/job';
import { useLooking } from '../../stores/looking';
import SeatDesk from './SeatDesk.vue';

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

it('Seat by fit takes the way that keeps most of the music, as the finding does', async () => {
  const { bytes, name: file } = bandSongs().find((s) => s.name === 'piano-for-two-hands-1.mid')!;
  await openSong({ id: 'piano', title: 'Piano', file, bytes, targetId: 'lantern-rail' });
  const job = useJob();
  const finding = job.findings.find((f) => f.code === 'unseated')!;
  const { wrapper } = await mounted(SeatDesk);
  await eventually(() =>
    expect(button(wrapper, 'Seat by fit').attributes('disabled')).toBeUndefined(),
  );
  // The first of the list is another hand: which is best shows only when each was tried.
  const best = job.rankedMends(finding)[0]!;
  expect(finding.mends[0]!.title).toMatch(/^Seat “Left hand”/);
  expect(best.mend.title).toMatch(/^Seat “Right hand”/);
  expect(wrapper.find('.suggestion').text()).toMatch(/^Seat by fit ?Seat “Right hand” .*: tune /);

  await wrapper.find('.suggestion .link').trigger('click');
  await eventually(() => expect(useLooking().finding).toBe(finding.key));

  await button(wrapper, 'Seat by fit').trigger('click');
  await atRest();
  const said = job.plan!.now.steps.map(({ step, params }) => ({ step, params }));
  expect(said).toEqual(best.mend.steps.map(({ step, params }) => ({ step, params })));
  expect(wrapper.find('.suggestion').exists()).toBe(false);
});

it('a choice that costs nothing is not counted among what is mended unasked', async () => {
  const part = (name: string, c: number, key: number) =>
    new Track(name).note(c, 0, 480, key, 90).note(c, 960, 480, key + 2, 90);
  const bytes = smf(1, 480, [conductor(), part('High', 1, 74), part('Low', 2, 67)]);
  await openSong({ id: 'two', title: 'Two', file: 'two.mid', bytes, targetId: 'bell-loft' });
  const job = useJob();
  const finding = job.findings.find((f) => f.code === 'unseated')!;
  await eventually(() => expect(job.trials[finding.key]).toBeDefined());
  expect(finding.choice).toBeTruthy();
  expect(job.trials[finding.key]!.some((t) => t.lossless && !t.refused)).toBe(true);
  const others = job.findings.filter(
    (f) => !f.choice && job.trials[f.key]?.some((t) => t.lossless && !t.refused),
  );
  expect(job.losslessCount).toBe(others.length);
});
