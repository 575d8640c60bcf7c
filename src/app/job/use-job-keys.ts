import { useEventListener } from '@vueuse/core';
import { tinykeys } from 'tinykeys';
import { onBeforeUnmount, onMounted } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { bindings } from '../keys/keys';
import { useHand } from '../stores/hand';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { useWheel } from '../stores/wheel';
import { usePlaying } from '../stores/playing';
import { applyMend } from '../margin/apply';
import { useHandover } from '../stores/handover';
import { useRehearsal } from '../stores/rehearsal';

/** The keys of an open job. */
export function useJobKeys(): void {
  const job = useJob();
  const looking = useLooking();
  const playing = usePlaying();
  const handover = useHandover();
  const hand = useHand();
  const wheel = useWheel();
  const rehearsal = useRehearsal();
  const route = useRoute();
  const router = useRouter();
  let off = () => {};

  const showProof = () => {
    if (route.params['stage'] !== 'proof')
      void router.push(`/job/${String(route.params['id'])}/proof`);
  };

  onMounted(() => {
    off = tinykeys(
      window,
      bindings({
        play: () => void (playing.playing ? playing.stop() : playing.play()),
        undo: job.undo,
        redo: job.redo,
        'next-finding': () => {
          showProof();
          looking.walk(1);
        },
        'last-finding': () => {
          showProof();
          looking.walk(-1);
        },
        mend: () => {
          const open = looking.openFinding;
          const best = open && job.rankedMends(open)[0];
          if (best && open.reason === null) applyMend(open, best.mend);
        },
        'mend-all': () => void job.mendAll('lossless'),
        before: () => (looking.before = true),
        choose: looking.chooseNamed,
        'last-part': () => looking.walkParts(-1),
        'next-part': () => looking.walkParts(1),
        listen: () => (playing.listen = playing.listen === 'source' ? 'delivered' : 'source'),
        bar: () => void playing.hearBar(looking.part === null ? {} : { part: looking.part }),
        loop: () => playing.loopHere(),
        start: () => playing.seek(0),
        wheel: () => wheel.toggle(),
        'close-up': () => hand.toggle(playing.shownTick),
        handover: () => {
          // What it asks is asked where it can be seen.
          if (route.params['stage'] !== 'handover')
            void router.push(`/job/${String(route.params['id'])}/handover`);
          void handover.handOver();
        },
        jot: () => {
          if (route.params['stage'] === 'rehearsal') rehearsal.askToJot();
        },
        clear: looking.clear,
      }),
    );
  });
  onBeforeUnmount(() => off());
  useEventListener(window, 'keyup', (event) => {
    if (event.key.toLowerCase() === 'b') looking.before = false;
  });
  useEventListener(window, 'blur', () => (looking.before = false));
}
