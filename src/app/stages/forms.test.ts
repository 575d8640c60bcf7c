import { describe, expect, it } from 'vitest';
import { plainCalls } from '../../worker/plain-calls';
import { choicesOf, describedLabel, kindOf, knownValues, type Shape } from '../kit/shapes';
import { shapeOf } from './step-forms';

const forms = plainCalls.stepForms();

describe('forms made from the steps', () => {
  const entriesOf = (shape: Shape) => Object.entries(shape.properties ?? {});
  it('every step has one, with a field for every parameter', () => {
    expect(forms.length).toBeGreaterThan(20);
    for (const form of forms)
      for (const [name, of] of entriesOf(shapeOf(form))) {
        const kind = kindOf(of);
        expect(describedLabel(name, of)).toMatch(/^[A-Z]/);
        // What has no field could not be given at all.
        expect(['data', 'kinds', 'group'], `${form.id}.${name}`).not.toContain(kind);
        if (kind === 'one-of' || kind === 'some-of')
          expect(choicesOf(of).length, `${form.id}.${name}`).toBeGreaterThan(1);
      }
  });
  it('knows limits, choices and what is needed', () => {
    const of = (id: string) => shapeOf(forms.find((f) => f.id === id)!);
    const kinds = (id: string) => entriesOf(of(id)).map(([, s]) => kindOf(s));
    expect(of('rest-at-start')).toMatchObject({
      required: ['bars'],
      properties: { bars: { minimum: 1, maximum: 64 }, soundToo: {} },
    });
    expect(kinds('keep-voices')).toEqual(['whole', 'one-of', 'one-of', 'number']);
    expect(kinds('carve')).toEqual(['list']);
    expect(Object.keys(of('carve').properties!['places']!.items!.properties!)).toHaveLength(4);
    expect(kinds('captions')).toContain('texts');
    expect(kinds('strip')[0]).toBe('some-of');
    expect(knownValues(of('keep-voices'))).toEqual({ keep: 'missed', over: 'seat' });
  });
  it('a form without parameters can be applied at once', () => {
    expect(
      plainCalls.checkStep({ step: 'state-tempo', params: knownValues({}), scope: {}, on: true }),
    ).toEqual({
      says: 'Write the tempo at the start',
      problem: null,
    });
    expect(
      plainCalls.checkStep({ step: 'transpose', params: {}, scope: {}, on: true }).problem,
    ).toMatch(/semitones/);
  });
});
