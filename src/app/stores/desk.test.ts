import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { eventually } from '../../../testing/eventually';
import { beforeEach, describe, expect, it } from 'vitest';
import { atRest as rest, emptyBase, openJob as open } from '../../../testing/open-job';
import { useHand } from './hand';
import { useJob } from './job';
import { useLanes } from './lanes';
import { useLooking } from './looking';
import { AS_IT_IS, LEFT_OUT, NO_SEAT, useSeating } from './seating';

const steps = () => useJob().plan!.now.steps;
const part = (name: string) => useSeating().all.find((p) => p.name.startsWith(name))!;

beforeEach(async () => {
  setActivePinia(createPinia());
  await emptyBase();
});

describe('the seat desk', () => {
  it('one gesture is one step for that part, replaced by the next', async () => {
    await open('demo-tide-table', 'tide-voices');
    const seating = useSeating();
    seating.place([part('Voice 1')], 'voice-3');
    await rest();
    expect(steps()).toMatchObject([{ step: 'route', params: { seat: 'voice-3' } }]);
    expect(seating.whereIs(part('Voice 1'))).toBe('voice-3');
    seating.place([part('Voice 1')], LEFT_OUT);
    await rest();
    expect(steps()).toMatchObject([{ step: 'leave-out' }]);
    expect(seating.leftOut.map((p) => p.name)).toEqual(['Voice 1']);
    // To where it is already is no change, and nowhere is no place.
    const before = steps();
    seating.place([part('Voice 2')], 'voice-2');
    seating.place([part('Voice 2')], NO_SEAT);
    expect(steps()).toBe(before);
  });

  it('a seat with sounds of its own gives the part one of them, and says it in the same change', async () => {
    await open('demo-last-ferry-waltz', 'ferry-barrel');
    const seating = useSeating();
    const [seat] = seating.ownSeats.filter((s) => (s.sounds?.length ?? 0) > 0);
    const [brass] = seating.all.filter((p) => p.seat !== seat!.id);
    const past = useJob().plan!.past.length;
    seating.place([brass!], seat!.id);
    await rest();
    const there = seating.all.find((p) => p.id === brass!.id)!;
    expect(seat!.sounds!.map((s) => s.program)).toContain(there.program);
    expect(useJob().plan!.past.length).toBe(past + 1);
    // Moved on, the next seat's own follows in the place of the first.
    const other = seating.ownSeats.find((s) => s.sounds?.length && s.id !== seat!.id)!;
    seating.place([there], other.id);
    await rest();
    expect(other.sounds!.map((s) => s.program)).toContain(
      seating.all.find((p) => p.id === brass!.id)!.program,
    );
    expect(steps().filter((s) => s.step === 'route')).toHaveLength(1);
    expect(steps().filter((s) => s.step === 'set-program').length).toBeLessThanOrEqual(1);
  });

  it('what would come of parts is what comes of them', async () => {
    await open('demo-tide-table', 'tide-voices');
    const seating = useSeating();
    const at = () => seating.seats.find((s) => s.id === 'voice-2')!;
    const preview = seating.previewAt(at(), [part('Voice 1')])!;
    expect(preview.notes).toBe(part('Voice 1').columns.count);
    expect(seating.previewAt(at(), [part('Voice 2')])).toBeNull();
    const atOnce = preview.atOnce;
    seating.place([part('Voice 1')], 'voice-2');
    await rest();
    expect(seating.atOnceOf(at().parts.map((p) => p.columns))).toBe(atOnce);
    expect(at().parts).toHaveLength(2);
  });

  it('semitones are added to those of before, and what comes to nothing is no step', async () => {
    await open('demo-tide-table', 'tide-voices');
    const seating = useSeating();
    for (const [by, now] of [
      [12, 12],
      [-5, 7],
    ] as const) {
      seating.transpose(part('Voice 1'), by);
      await rest();
      expect(steps()).toMatchObject([{ step: 'transpose', params: { semitones: now } }]);
    }
    seating.transpose(part('Voice 1'), -7);
    await rest();
    expect(steps()).toEqual([]);
    expect(useJob().said).toBe('Voice 1: as written');
  });

  it('chosen parts: one, several, none; walked to by a key it is that one', async () => {
    await open('demo-tide-table', 'tide-voices');
    const seating = useSeating();
    const looking = useLooking();
    seating.pick(part('Voice 1').id, false);
    seating.pick(part('Voice 4').id, true);
    expect(seating.chosen.map((p) => p.name)).toEqual(['Voice 1', 'Voice 4']);
    seating.pick(part('Voice 1').id, true);
    expect(seating.chosen.map((p) => p.name)).toEqual(['Voice 4']);
    looking.walkParts(1);
    await eventually(() => expect(seating.chosen.map((p) => p.name)).toEqual(['Voice 2']));
    looking.choosePart(null);
    await eventually(() => expect(seating.chosen).toEqual([]));
  });

  it('a target that takes every part has a card for that', async () => {
    await open('demo-quay-stomp', 'stomp-crate');
    const seating = useSeating();
    expect(seating.takesAll).toBe(true);
    expect(seating.seats.map((s) => s.id)).toEqual([AS_IT_IS]);
    expect(seating.whereIs(part('Quay stomp'))).toBe(AS_IT_IS);
    // Of two kits the one that has more of what is played.
    expect(seating.kit?.id).toBe('quay');
  });
});

describe('lanes', () => {
  /** The upper of two roles at the top of the chanter. */
  async function seated() {
    await open('demo-two-in-one-boat', 'reed-ladder');
    const job = useJob();
    const whole = part('Reed organ');
    job.addSteps('Split', [
      { step: 'split', params: { by: 'key', at: 60 }, scope: { parts: [whole.ref] }, on: true },
    ]);
    await rest();
    useSeating().place([part('Reed organ, from')], 'chanter-5');
    await rest();
  }
  const upper = () => part('Reed organ, from');

  it('a part is laid, laid otherwise, and as written again: one step', async () => {
    await seated();
    const lanes = useLanes();
    expect(lanes.laid.map((p) => p.name)).toEqual([upper().name]);
    lanes.lay(upper(), { by: 'contour' }, 'by its contour');
    await rest();
    const [one] = steps().filter((s) => s.step === 'lanes');
    expect(one!.params).toEqual({ lanes: lanes.seatOf(upper())!.laneNotes, by: 'contour' });
    lanes.lay(upper(), { by: 'shuffle' }, 'shuffled');
    await rest();
    expect(lanes.paramsOf(upper())).toMatchObject({ by: 'shuffle', seed: 1 });
    lanes.asWritten(upper());
    await rest();
    expect(steps().filter((s) => s.step === 'lanes')).toEqual([]);
  });

  it('a stretch by hand takes the place of those that it lies over', async () => {
    await seated();
    const lanes = useLanes();
    lanes.direct(upper(), 1, 4, [1, 2]);
    await rest();
    lanes.direct(upper(), 9, 12, [3]);
    await rest();
    lanes.direct(upper(), 4, 5, [7]);
    await rest();
    const directed = () => lanes.paramsOf(upper()).directed ?? [];
    expect(directed().map((d) => [d.fromTick, d.toTick, d.order])).toEqual([
      [5760, 9600, [7]],
      [15_360, 23_040, [3]],
    ]);
    lanes.undirect(upper(), directed()[0]!);
    await rest();
    expect(directed()).toHaveLength(1);
  });

  it('levels are made, set one by one, touched by hand, and made anew', async () => {
    await seated();
    const lanes = useLanes();
    const job = useJob();
    lanes.lay(upper(), { by: 'contour' }, 'by its contour');
    await rest();
    const group = () => lanes.groups.find((g) => g.name === 'Chanter')!;
    lanes.makeLevels(group());
    await rest();
    const count = (id: string) =>
      lanes.playing(group().easier.find((s) => s.id === id)!)?.columns.count ?? 0;
    const made = ['chanter-1', 'chanter-2', 'chanter-3', 'chanter-4'].map(count);
    expect(made.every((n) => n > 0)).toBe(true);
    expect([...made].sort((a, b) => a - b)).toEqual(made);
    // They are no parts to be laid themselves.
    expect(lanes.laid.map((p) => p.name)).toEqual([upper().name]);

    lanes.setLevel(group(), 'chanter-2', { strikesASecond: 1 });
    await rest();
    expect(count('chanter-2')).toBeLessThan(made[1]!);

    // One note of the lowest is taken out in the close-up.
    const lowest = lanes.playing(group().easier.at(-1)!)!;
    const looking = useLooking();
    looking.chosen = new Set([lowest.columns.id[0]!]);
    await useHand().takeOut();
    await rest();
    expect(count('chanter-1')).toBe(made[0]! - 1);
    // It stays so whatever is done to the hardest, which goes before the levels.
    lanes.lay(upper(), { by: 'keys' }, 'by its keys');
    await rest();
    expect(steps().at(-1)!.step).toBe('make-levels');
    expect(count('chanter-1')).toBe(made[0]! - 1);
    lanes.setLevel(group(), 'chanter-1', null);
    await rest();
    expect(count('chanter-1')).toBeGreaterThan(0);
    job.undo();
    await rest();
    expect(count('chanter-1')).toBe(made[0]! - 1);
    lanes.noLevels(group());
    await rest();
    expect(['chanter-1', 'chanter-4'].map(count)).toEqual([0, 0]);
  });

  it('parts of the source are ranked, each worked out once', async () => {
    await open('demo-ebb-and-flood', 'marsh-duel');
    const lanes = useLanes();
    const worth = lanes.ranked.map((r) => r.chart.worth);
    expect(worth).toEqual([...worth].sort((a, b) => b - a));
    const [first] = lanes.ranked;
    useSeating().place([useSeating().all[0]!], LEFT_OUT);
    await rest();
    expect(lanes.ranked.find((r) => r.part.id === first!.part.id)!.chart).toBe(first!.chart);
  });
});

describe('notes by hand', () => {
  const pick = (name: string, n: number) => {
    const { columns } = part(name);
    useLooking().chosen = new Set(columns.id.slice(0, n));
  };

  it('several nudges in a row are one change of one step, and undo takes all of it back', async () => {
    await open('demo-horns-at-dusk', 'fog-pier');
    const hand = useHand();
    hand.toggle();
    pick('Horn 1', 2);
    const was = [...part('Horn 1').columns.start.slice(0, 2)];
    hand.nudge({ ticks: 60 });
    hand.nudge({ ticks: 60, semitones: 1 });
    expect(hand.preview).toMatchObject({ ticks: 120, semitones: 1 });
    await hand.flush();
    await rest();
    expect(steps()).toMatchObject([{ step: 'by-hand' }]);
    expect([...part('Horn 1').columns.start.slice(0, 2)]).toEqual(was.map((t) => t + 120));
    // The same sitting: what comes to nothing again is no edit of its own.
    hand.nudge({ ticks: -120, semitones: -1 });
    await hand.flush();
    await rest();
    expect([...part('Horn 1').columns.start.slice(0, 2)]).toEqual(was);
    expect(useJob().plan!.past.length).toBe(2);
  });

  it('another part is another change of the same step; another sitting is another step', async () => {
    await open('demo-horns-at-dusk', 'fog-pier');
    const hand = useHand();
    hand.toggle();
    pick('Horn 1', 1);
    hand.nudge({ louder: 9 });
    pick('Horn 2', 1);
    await hand.flush();
    await rest();
    hand.nudge({ louder: -9 });
    await hand.flush();
    await rest();
    expect(steps()).toHaveLength(1);
    expect((steps()[0]!.params as { edits: unknown[] }).edits).toHaveLength(2);
    hand.close();
    hand.toggle();
    pick('Horn 1', 1);
    hand.nudge({ ticks: 10 });
    await hand.flush();
    await rest();
    expect(steps()).toHaveLength(2);
  });

  it('a drawn note is moved where it is written, and taken out again', async () => {
    await open('demo-horns-at-dusk', 'fog-pier');
    const hand = useHand();
    hand.toggle();
    const { ref } = part('Horn 1');
    const before = part('Horn 1').columns.count;
    await hand.draw({ part: ref, tick: 480, lengthTicks: 240, noteNumber: 50, velocity: 90 });
    await rest();
    const { columns } = part('Horn 1');
    expect(columns.count).toBe(before + 1);
    const at = columns.origin.indexOf(0);
    useLooking().chosen = new Set([columns.id[at]!]);
    hand.nudge({ ticks: 120, semitones: 2, longerTicks: -100 });
    await hand.flush();
    await rest();
    expect(steps()[0]!.params).toMatchObject({
      drawn: [{ tick: 600, lengthTicks: 140, noteNumber: 52 }],
    });
    useLooking().chosen = new Set([
      part('Horn 1').columns.id[part('Horn 1').columns.origin.indexOf(0)]!,
    ]);
    await hand.takeOut();
    await rest();
    expect(part('Horn 1').columns.count).toBe(before);
  });

  it('a note of a split is turned to the other side and back; elsewhere nothing can be', async () => {
    await open('demo-two-in-one-boat', 'reed-ladder');
    const hand = useHand();
    const looking = useLooking();
    looking.chosen = new Set([part('Reed organ').columns.id[0]!]);
    expect(hand.turnable).toBe(false);
    useJob().addSteps('Split', [
      {
        step: 'split',
        params: { by: 'key', at: 60 },
        scope: { parts: [part('Reed organ').ref] },
        on: true,
      },
    ]);
    await rest();
    const counts = () =>
      [part('Reed organ, below'), part('Reed organ, from')].map((p) => p.columns.count);
    const [low, high] = counts();
    const turned = part('Reed organ, from').columns.id.slice(0, 3);
    looking.chosen = new Set(turned);
    expect(hand.turnable).toBe(true);
    await hand.turn();
    await rest();
    expect(counts()).toEqual([low! + 3, high! - 3]);
    expect(steps()).toHaveLength(1);
    looking.chosen = new Set(turned);
    await hand.turn();
    await rest();
    expect(counts()).toEqual([low, high]);
    expect((steps()[0]!.params as { turned: unknown[] }).turned).toEqual([]);
  });
});
