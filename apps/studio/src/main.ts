import '@fontsource-variable/commissioner';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import ConfirmationService from 'primevue/confirmationservice';
import ToastService from 'primevue/toastservice';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router.ts';
import './theme/base.css';
import { lightBox } from './theme/preset.ts';
import './theme/tokens.css';
import { tooltip } from './theme/tooltip.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, {
    theme: { preset: lightBox, options: { darkModeSelector: 'none' } },
    ...(nonce ? { csp: { nonce } } : {}),
  })
  .use(ConfirmationService)
  .use(ToastService)
  .directive('tooltip', tooltip)
  .mount('#studio');
