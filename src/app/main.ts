import '../core/target/no-eval';
import '@fontsource/ibm-plex-sans/latin-400.css';
import '@fontsource/ibm-plex-sans/latin-500.css';
import '@fontsource/ibm-plex-sans/latin-600.css';
import '@fontsource/ibm-plex-sans/latin-ext-400.css';
import '@fontsource/source-serif-4/latin-400.css';
import '@fontsource/source-serif-4/latin-400-italic.css';
import '@fontsource/source-serif-4/latin-600.css';
import './theme/base.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { sayFailure } from './kit/say-failure';
import { router } from './router';
import { useShelf } from './stores/shelf';
import { shineOn } from './theme/tokens';

shineOn(document.documentElement, 'paper');

const app = createApp(App).use(createPinia()).use(router);
// A fault inside reaches the screen as a sentence, never as silence.
const say = (error: unknown) => {
  const says = sayFailure(error);
  const { problems } = useShelf();
  if (!problems.includes(says)) problems.push(says);
  console.error(error);
};
app.config.errorHandler = say;
// A page that was not loaded yet, and now cannot be.
router.onError(say);
window.addEventListener('vite:preloadError', (event) => {
  event.preventDefault();
  say((event as Event & { payload?: unknown }).payload);
});
window.addEventListener('unhandledrejection', ({ reason }) => say(reason));
app.mount('#app');
