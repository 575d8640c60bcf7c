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
import { router } from './router';
import { useShelf } from './stores/shelf';
import { shineOn } from './theme/tokens';

shineOn(document.documentElement, 'paper');

const app = createApp(App).use(createPinia()).use(router);
// A fault inside reaches the screen as a sentence, never as silence.
const say = (error: unknown) => {
  const what = error instanceof Error ? error.message : String(error);
  useShelf().problems.push(
    `Something inside failed: ${what}. Save the job as a file, and load the page again.`,
  );
  console.error(error);
};
app.config.errorHandler = say;
window.addEventListener('unhandledrejection', ({ reason }) => say(reason));
app.mount('#app');
