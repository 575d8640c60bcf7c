<script setup lang="ts">
import { NButton, NRadio, NRadioGroup } from 'naive-ui';
import { computed, ref } from 'vue';
import DialogCard from '../kit/DialogCard.vue';
import { useFiles } from '../kit/use-files';
import { useJob } from '../stores/job';
import { usePlaying } from '../stores/playing';

/** Which sounds are heard in this job: those that ship, or a bank of the user’s own. */
const emit = defineEmits<{ close: [] }>();
const playing = usePlaying();
const { banks } = playing;
const job = useJob();
const problem = ref<string | null>(null);
const busy = ref(false);
const now = computed(() => banks.wanted.value ?? '');
const choices = computed(() => [
  { value: '', label: 'Those that ship' },
  ...banks.kept.value.map((name) => ({ value: name, label: name })),
]);

const open = useFiles('.sf2,.sf3', taken, { multiple: false });
async function taken([file]: File[]) {
  if (!file) return;
  busy.value = true;
  try {
    problem.value = await banks.take(file);
  } catch (error) {
    problem.value = `${file.name}: ${(error as Error).message}`;
  } finally {
    busy.value = false;
  }
}
const choose = (name: string) => void banks.choose(name === '' ? null : name, false);
const forAll = () => void banks.choose(banks.wanted.value, true);
const isForAll = computed(() => banks.wanted.value === banks.forAll.value);
</script>

<template>
  <DialogCard title="Sounds" :width="460" @close="emit('close')">
    <div class="body">
      <p class="serif">
        <template v-if="now !== ''">
          You hear <strong>{{ now }}</strong>, which is kept in this browser.
        </template>
        <template v-else>
          You hear the sounds that ship with Wary Quill: all 128 programs and a drum kit. A bank of
          your own (.sf2 or .sf3) can take their place.
        </template>
        What is delivered does not change with it.
      </p>
      <NRadioGroup
        v-if="choices.length > 1"
        class="choices"
        :value="now"
        :disabled="job.readOnly"
        name="sounds-of-the-job"
        aria-label="Sounds of this job"
        @update:value="choose"
      >
        <div v-for="c in choices" :key="c.value" class="choice">
          <NRadio :value="c.value">{{ c.label }}</NRadio>
          <span v-if="(banks.forAll.value ?? '') === c.value" class="soft">in all other jobs</span>
          <button
            v-if="c.value !== ''"
            class="link"
            type="button"
            :aria-label="`Remove ${c.label} from this browser`"
            @click="banks.drop(c.value)"
          >
            remove
          </button>
        </div>
      </NRadioGroup>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="ways">
        <NButton :loading="busy" @click="open()">Use a bank of your own</NButton>
        <NButton v-if="!isForAll" @click="forAll">
          {{ now === '' ? 'Those that ship' : now }} in every job
        </NButton>
      </div>
    </div>
  </DialogCard>
</template>

<style scoped>
.body,
.choices {
  display: grid;
  gap: 14px;
}

.choices {
  gap: 5px;
}

.choice {
  display: flex;
  gap: 10px;
  align-items: center;
}

.choice .soft,
.choice .link {
  font-size: 12px;
}

.problem {
  color: var(--wax);
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 9px;
}
</style>
