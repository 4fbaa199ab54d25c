import { z } from 'zod';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router';
import './style.css';

// The content policy forbids code made at run time; without this the schemas try whether they may make some.
z.config({ jitless: true });

createApp(App).use(createPinia()).use(router).mount('#app');
