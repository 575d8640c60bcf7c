<script setup lang="ts">
import {
  autocompletion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete';
import '@fontsource/ibm-plex-mono/latin-400.css';
import { json } from '@codemirror/lang-json';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { EditorState, StateEffect } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { basicSetup } from 'codemirror';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { frames } from '../kit/frame-queue';
import { keysAt, parseTargetText } from '../../core/target/parse';
import { pathAt, pathOf, placeOf } from './json-places';
import { choicesOf } from '../kit/shapes';
import { shapeAt } from './schema-fields';

/** The target as text, with what is wrong at its line and the known keys on offer. */
const props = defineProps<{ text: string }>();
const emit = defineEmits<{ change: [text: string] }>();
const place = ref<HTMLElement>();
let view: EditorView | null = null;

const look = EditorView.theme({
  '&': { height: '100%', fontSize: '12.5px', backgroundColor: 'var(--page)', color: 'var(--ink)' },
  '.cm-content': { fontFamily: "'IBM Plex Mono', monospace", caretColor: 'var(--ink)' },
  '.cm-gutters': {
    backgroundColor: 'var(--band)',
    color: 'var(--ink-2)',
    borderColor: 'var(--line)',
  },
  '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'var(--quill-wash)' },
  '.cm-selectionBackground, &.cm-focused .cm-selectionBackground': {
    backgroundColor: 'var(--hatch-ground)',
  },
  '.cm-tooltip': {
    backgroundColor: 'var(--page)',
    borderColor: 'var(--line)',
    color: 'var(--ink)',
  },
  '.cm-tooltip-autocomplete ul li[aria-selected]': {
    backgroundColor: 'var(--quill)',
    color: 'var(--on-quill)',
  },
  '.cm-diagnostic-error': { borderLeftColor: 'var(--wax)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
});
const colours = HighlightStyle.define([
  { tag: tags.propertyName, color: 'var(--quill)' },
  { tag: tags.string, color: 'var(--moss-text)' },
  { tag: tags.number, color: 'var(--ochre-text)' },
  { tag: [tags.bool, tags.null], color: 'var(--wax)' },
]);

function problems(of: EditorView): Diagnostic[] {
  const text = of.state.doc.toString();
  const found = parseTargetText(text).problems.map((p): Diagnostic => {
    const at = jsonPlace(p.says, text) ?? placeOf(text, pathOf(p.path));
    return { ...at, severity: 'error', message: p.says };
  });
  return found;
}

/** The place that the reader of JSON names. */
function jsonPlace(says: string, text: string): { from: number; to: number } | null {
  const at = /position (\d+)/.exec(says);
  if (!at) return null;
  const from = Math.min(Number(at[1]), Math.max(0, text.length - 1));
  return { from, to: Math.min(text.length, from + 1) };
}

function complete(context: CompletionContext): CompletionResult | null {
  const { path, wants, from } = pathAt(context.state.doc.toString(), context.pos);
  if (from === context.pos && !context.explicit) return null;
  const options =
    wants === 'key'
      ? keysAt(path).map((key) => ({
          label: `"${key}"`,
          apply: `"${key}": `,
          detail: shapeAt([...path, key])?.description ?? '',
        }))
      : choicesOf(shapeAt(path) ?? {}).map((value) => ({ label: JSON.stringify(value) }));
  return options.length === 0 ? null : { from, options, validFor: /^["A-Za-z0-9-]*$/ };
}

const later = {};
const busy = ref(true);
/** What the text is written with first; then its colours, and what watches over it, a frame each. */
onMounted(() => {
  const editor = new EditorView({
    parent: place.value!,
    state: EditorState.create({
      doc: props.text,
      extensions: [
        look,
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': 'Target as JSON', tabindex: '0' }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) emit('change', update.state.doc.toString());
        }),
      ],
    }),
  });
  view = editor;
  const setup = [basicSetup].flat();
  const half = setup.length >> 1;
  const more = [
    setup.slice(0, half),
    setup.slice(half),
    json(),
    syntaxHighlighting(colours),
    [lintGutter(), linter(problems, { delay: 200 }), autocompletion({ override: [complete] })],
  ];
  const next = () => {
    const extension = more.shift();
    if (!extension) return void (busy.value = false);
    editor.dispatch({ effects: StateEffect.appendConfig.of(extension) });
    frames.add(later, next, { alone: true });
  };
  frames.add(later, next, { alone: true });
});
onBeforeUnmount(() => {
  frames.drop(later);
  view?.destroy();
});
watch(
  () => props.text,
  (text) => {
    if (!view || view.state.doc.toString() === text) return;
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
  },
);
</script>

<template>
  <div ref="place" class="json" :aria-busy="busy"></div>
</template>

<style scoped>
.json {
  min-height: 0;
  height: 100%;
  overflow: hidden;
  border: 1px solid var(--line);
  border-radius: 5px;
}
</style>
