<script setup lang="ts">
import {
  ContainerSchema,
  ENCODINGS,
  type Container,
  type OwnFile,
} from '../../../../core/formats/own/schema';
import FormatBytes from './FormatBytes.vue';
import FormatJson from './FormatJson.vue';
import FormatLines from './FormatLines.vue';
import FormatTable from './FormatTable.vue';
import FormatXml from './FormatXml.vue';
import { newContainer } from './new-container';

/** One file of a format in sentences, whatever it is made of. */
const props = defineProps<{ file: OwnFile }>();
const emit = defineEmits<{ set: [file: OwnFile] }>();
const put = (more: Partial<OwnFile>) => emit('set', { ...props.file, ...more });
const contain = (more: Partial<Container>) =>
  put({ container: { ...props.file.container, ...more } as Container });
const picked = (event: Event) => (event.target as HTMLSelectElement).value;

const PLAIN = ' version="1.0" encoding="UTF-8"';
const declared = (said: boolean | string | undefined) =>
  (said === false ? '' : typeof said === 'string' ? said : PLAIN).trim();
function declare(element: HTMLInputElement) {
  const { container } = props.file;
  if (container.kind !== 'xml') return;
  const said = element.value.trim();
  const next = {
    ...container,
    declaration: said === '' ? false : said === PLAIN.trim() ? undefined : ` ${said}`,
  };
  // What a first line cannot say is put back.
  if (ContainerSchema.safeParse(next).success) put({ container: next });
  else element.value = declared(container.declaration);
}

const KINDS: Readonly<Record<Container['kind'], string>> = {
  table: 'a table',
  lines: 'lines of text',
  json: 'JSON',
  xml: 'XML',
  binary: 'bytes',
};
const PER = {
  piece: 'for each piece',
  delivery: 'for the whole delivery',
  seat: 'for each seat',
  part: 'for each part',
  rung: 'for each level',
} as const;
const LETTERS: Readonly<Record<(typeof ENCODINGS)[number], string>> = {
  'utf-8': 'UTF-8',
  'utf-8-mark': 'UTF-8 with its mark',
  'utf-16le': 'UTF-16, low byte first',
  'utf-16be': 'UTF-16, high byte first',
  'latin-1': 'Latin-1',
  ascii: 'ASCII',
  'shift-jis': 'Shift-JIS',
};
const ENDS = { lf: 'LF', crlf: 'CR LF', cr: 'CR' } as const;
</script>

<template>
  <span class="line">
    The file is called
    <input
      class="field"
      :value="file.path"
      aria-label="Name of the file"
      @change="put({ path: ($event.target as HTMLInputElement).value })"
    />, one
    <select
      class="field"
      :value="file.per ?? 'piece'"
      aria-label="One file for each"
      @change="put({ per: picked($event) === 'piece' ? undefined : (picked($event) as 'seat') })"
    >
      <option v-for="(words, id) in PER" :key="id" :value="id">{{ words }}</option></select
    >. It is
    <select
      class="field"
      :value="file.container.kind"
      aria-label="What the file is made of"
      @change="put({ container: newContainer(picked($event) as Container['kind']) })"
    >
      <option v-for="(words, id) in KINDS" :key="id" :value="id">{{ words }}</option></select
    >, its letters in
    <select
      class="field"
      :value="file.encoding ?? 'utf-8'"
      aria-label="Letters"
      @change="
        put({ encoding: picked($event) === 'utf-8' ? undefined : (picked($event) as 'ascii') })
      "
    >
      <option v-for="id in ENCODINGS" :key="id" :value="id">{{ LETTERS[id] }}</option>
    </select>
    <template v-if="file.container.kind !== 'binary'">
      , its lines ended by
      <select
        class="field"
        :value="file.lineEnd ?? 'lf'"
        aria-label="Lines are ended by"
        @change="put({ lineEnd: picked($event) === 'lf' ? undefined : (picked($event) as 'cr') })"
      >
        <option v-for="(words, id) in ENDS" :key="id" :value="id">{{ words }}</option></select
      >,
      <select
        class="field"
        :value="file.lastLineEnd === false ? 'no' : 'yes'"
        aria-label="The last line"
        @change="put({ lastLineEnd: picked($event) === 'no' ? false : undefined })"
      >
        <option value="yes">the last one too</option>
        <option value="no">but not the last</option>
      </select>
    </template>
    <template v-else>
      , numbers
      <select
        class="field"
        :value="file.container.order"
        aria-label="Byte order"
        @change="contain({ order: picked($event) as 'big' })"
      >
        <option value="little">low byte first</option>
        <option value="big">high byte first</option>
      </select>
    </template>
    <template v-if="file.container.kind === 'json' || file.container.kind === 'xml'">
      , indented by
      <input
        class="field"
        inputmode="numeric"
        :value="file.container.indent ?? (file.container.kind === 'xml' ? 2 : 0)"
        aria-label="Indented by"
        @change="
          contain({
            indent: Math.max(
              0,
              Math.min(8, Number(($event.target as HTMLInputElement).value) || 0),
            ),
          })
        "
      />
    </template>
    <template v-if="file.container.kind === 'xml'">
      , its first line saying
      <input
        class="field words"
        :value="declared(file.container.declaration)"
        aria-label="What its first line says"
        placeholder="nothing"
        @change="declare($event.target as HTMLInputElement)"
      />, empty elements ended by
      <select
        class="field"
        :value="file.container.closing ?? 'tight'"
        aria-label="Empty elements are ended by"
        @change="contain({ closing: picked($event) === 'spaced' ? 'spaced' : undefined })"
      >
        <option value="tight">/&gt;</option>
        <option value="spaced">a space and /&gt;</option>
      </select>
    </template>
    .
    <FormatTable
      v-if="file.container.kind === 'table'"
      :table="file.container"
      @set="(container) => put({ container })"
    />
    <FormatLines
      v-else-if="file.container.kind === 'lines'"
      :lines="file.container.lines"
      name="Line"
      @set="(lines) => contain({ lines })"
    />
    <span v-else-if="file.container.kind === 'json'" class="inner">
      <FormatJson :node="file.container.root" name="JSON" @set="(root) => contain({ root })" />
    </span>
    <span v-else-if="file.container.kind === 'xml'" class="inner">
      <FormatXml :node="file.container.root" name="XML" @set="(root) => contain({ root })" />
    </span>
    <FormatBytes
      v-else
      :fields="file.container.fields"
      name="Field"
      @set="(fields) => contain({ fields })"
    />
  </span>
</template>

<style scoped src="./field.css"></style>
