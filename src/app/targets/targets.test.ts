import 'fake-indexeddb/auto';
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { builtInTargets, findTarget } from '../../core/target/index';
import { parseTarget } from '../../core/target/parse';
import { db } from '../storage/db';
import { newPlan, type JobRecord } from '../storage/job';
import { useTargets } from '../stores/targets';
import { pathAt, pathOf, placeOf } from './json-places';
import { choicesOf, firstValue, kindOf, labelOf, shapeOfKind, unitOf } from '../kit/shapes';
import { shapeAt, targetShape } from './schema-fields';

describe('fields made from the schema', () => {
  it('know every kind that the schema has', () => {
    const kinds = new Map<string, string>();
    const walk = (shape: typeof targetShape, path: string) => {
      for (const [key, of] of Object.entries(shape.properties ?? {})) {
        kinds.set(`${path}${key}`, kindOf(of));
        if (of.properties) walk(of, `${path}${key}.`);
      }
    };
    walk(targetShape, '');
    expect(Object.fromEntries(kinds)).toMatchObject({
      seats: 'list',
      'tempo.constant': 'yes',
      'tempo.lowestBpm': 'number',
      'tempo.onlyBpm': 'numbers',
      'file.formats': 'numbers',
      'file.layout': 'one-of',
      'events.controllers': 'words-or-numbers',
      'grid.rowsPerSecond': 'numbers',
      'chart.rungs': 'list',
      'chart.flags': 'texts',
      'naming.prefixes': 'texts',
      start: 'group',
      checklist: 'texts',
    });
    // Only the free options of an output are left to the text.
    expect([...kinds].filter(([, kind]) => kind === 'data')).toEqual([]);
  });
  it('a first value of a list item is of its kind', () => {
    const seat = shapeOfKind(targetShape.properties!['seats']!.items!, 'laneGroup');
    expect(firstValue(seat)).toMatchObject({ kind: 'laneGroup', channel: 1, laneNotes: [] });
  });
  it('numbers carry their unit', () => {
    expect([unitOf('sameKeyApartMs'), labelOf('sameKeyApartMs')]).toEqual(['ms', 'Same key apart']);
    expect([unitOf('lowestBpm'), labelOf('lowestBpm')]).toEqual(['BPM', 'Lowest']);
    expect(labelOf('ppq')).toBe('PPQ');
  });
  it('the shape at a path, for completion', () => {
    expect(choicesOf(shapeAt(['file', 'layout'])!)).toEqual(['as-is', 'single', 'conductor-first']);
    expect(shapeAt(['nowhere', 'else'])).toBeNull();
  });
});

describe('places in the text', () => {
  const text =
    '{\n  "tempo": { "constnat": true },\n  "seats": [{ "kind": "channel", "channel": 99 }]\n}';
  it('a problem stands at its key', () => {
    const data = parseTarget({ ...findTarget('bell-loft')!, tempo: { constnat: true } });
    const { from, to } = placeOf(text, pathOf(data.problems[0]!.path));
    expect(text.slice(from, to)).toBe('"constnat"');
    const seat = placeOf(text, pathOf('seats[0].channel'));
    expect(text.slice(seat.from, seat.to)).toBe('"channel"');
  });
  it('where a path is not there, the nearest above it', () => {
    const { from, to } = placeOf(text, pathOf('tempo.lowestBpm'));
    expect(text.slice(from, to)).toBe('"tempo"');
  });
  it('knows whether a key or a value is meant', () => {
    expect(pathAt(text, text.indexOf('constnat') + 3)).toMatchObject({
      path: ['tempo'],
      wants: 'key',
    });
    expect(pathAt(text, text.indexOf('"channel",') + 4)).toMatchObject({
      path: ['seats', 0, 'kind'],
      wants: 'value',
    });
  });
});

describe('the shelf of targets', () => {
  beforeEach(async () => {
    setActivePinia(createPinia());
    await db.targets.clear();
    await Promise.all([db.jobs.clear(), db.histories.clear()]);
  });
  const loft = findTarget('bell-loft')!;
  it('a copy is the user’s own, with an id of its own', async () => {
    const targets = useTargets();
    await targets.load();
    const first = (await targets.copy(loft))!;
    const second = (await targets.copy(loft))!;
    expect([first, second]).toEqual(['bell-loft-striker-copy', 'bell-loft-striker-copy-2']);
    expect(targets.all.length).toBe(builtInTargets.length + 2);
    expect(targets.isBuiltIn(first)).toBe(false);
    expect((await db.targets.get(first))!.target.polyphony).toEqual(loft.polyphony);
  });
  it('a file is taken in under a new id where the id is there', async () => {
    const targets = useTargets();
    const taken = await targets.take(JSON.stringify(loft));
    expect(taken).toEqual({ id: 'bell-loft-2' });
    const refused = await targets.take('{"tempo": {"constnat": true}}');
    expect('problems' in refused && refused.problems.some((p) => p.says.includes('constant'))).toBe(
      true,
    );
  });
  it('jobs keep their pin until they are given the changed target', async () => {
    const targets = useTargets();
    await targets.load();
    const id = (await targets.copy(loft))!;
    const target = targets.find(id)!;
    const job = {
      id: 'j',
      schemaVersion: 1,
      title: 'J',
      changedAt: 1,
      sources: [],
      activeTarget: id,
      plans: [newPlan(target)],
      tally: null,
    } as unknown as JobRecord;
    await db.jobs.put(job);
    const next = { ...target, version: '1.0.1', polyphony: { together: 2, over: 'all' as const } };
    await targets.put(next);
    expect((await db.jobs.get('j'))!.plans[0]!.target.polyphony!.together).toBe(4);
    await targets.giveToJobs(next, [job]);
    expect((await db.jobs.get('j'))!.plans[0]).toMatchObject({
      version: '1.0.1',
      target: { polyphony: { together: 2 } },
    });
  });
});
