import { shallowRef } from 'vue';
import type { StepForm } from '../../worker/protocol';
import type { Shape } from '../kit/shapes';
import { engine } from '../stores/engine';

/** The schema of a step's parameters. */
export const shapeOf = (form: StepForm): Shape => form.params as Shape;

const forms = shallowRef<readonly StepForm[]>([]);
let asked = false;

/** The forms of all steps, from the worker; the same list for all who ask. */
export function useStepForms() {
  if (!asked) {
    asked = true;
    void engine()
      .plain.stepForms()
      .then((list) => (forms.value = list))
      // Whoever asks next asks anew.
      .catch(() => (asked = false));
  }
  return forms;
}
