<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { ChevronDown } from '@lucide/vue';
import { ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useAddress } from './platform/address';
import { call, routes, sentence } from './platform/api';
import { useLibrary } from './features/library/library';
import { useSending } from './features/intake/sending';
import { useSession } from './features/accounts/session';
import { useTray } from './features/library/tray';
import { useVoice } from './platform/voice';

defineEmits<{ keys: [] }>();
const sending = useSending();
const chapters = [
  { to: '/desk', name: 'Desk' },
  { to: '/intake', name: 'Intake' },
  { to: '/library', name: 'Library' },
  { to: '/licenses', name: 'Licenses' },
  { to: '/foundry', name: 'Foundry' },
  { to: '/places', name: 'Places' },
];
const session = useSession();
const library = useLibrary();
const tray = useTray();
const voice = useVoice();
const route = useRoute();
const router = useRouter();
const { param, put } = useAddress();
const search = ref(param('q'));
watch(
  () => param('q'),
  (q) => (search.value = q),
);

function find(): void {
  const q = search.value.trim();
  if (route.path === '/library') put({ q });
  else if (q) void router.push({ path: '/library', query: { q } });
}

async function moveTo(workspaceId: string): Promise<void> {
  try {
    session.set(await call(routes.switchWorkspace, { body: { workspaceId } }));
    tray.clear();
    library.forget();
    await library.load();
    await router.push('/desk');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}

async function signOut(): Promise<void> {
  try {
    await call(routes.signOut);
  } catch (error) {
    voice.say(sentence(error), 'fault');
    return;
  }
  tray.clear();
  library.forget();
  await session.load();
  await router.push('/sign-in');
}
</script>

<template>
  <header class="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-rule px-6 py-2 max-sm:px-4">
    <RouterLink to="/desk" class="font-serif text-[19px] leading-6 font-medium tracking-tight">
      Orderly <span class="italic">Glyph</span>
    </RouterLink>
    <nav aria-label="Chapters" class="flex flex-wrap gap-x-5">
      <RouterLink
        v-for="chapter in chapters"
        :key="chapter.to"
        :to="chapter.to"
        class="border-b-2 py-1"
        :class="route.path.startsWith(chapter.to) ? 'border-no font-semibold' : 'border-transparent text-soft hover:text-ink'"
        :aria-current="route.path.startsWith(chapter.to) ? 'page' : undefined"
        >{{ chapter.name }}</RouterLink
      >
    </nav>
    <form role="search" class="ml-auto w-60 max-sm:ml-0 max-sm:w-full" @submit.prevent="find">
      <label for="search" class="sr-only">Find a family</label>
      <input
        id="search"
        v-model="search"
        type="search"
        placeholder="Find a family"
        autocomplete="off"
        class="w-full border-b border-rule-strong bg-transparent px-1 py-1 placeholder:text-soft"
        @input="route.path === '/library' && find()"
      />
    </form>
    <RouterLink v-if="sending.now" to="/intake" class="note shrink-0" aria-live="off"
      >Sending, {{ Math.floor((100 * sending.now.done) / Math.max(1, sending.now.total)) }}%</RouterLink
    >
    <Menu as="div" class="relative">
      <MenuButton class="flex items-center gap-1 py-1">
        <span class="max-w-44 truncate">{{ session.session?.workspace?.name }}</span>
        <ChevronDown :size="16" aria-hidden="true" />
      </MenuButton>
      <MenuItems class="absolute right-0 z-30 mt-1 w-64 border border-rule-strong bg-sheet py-1 max-sm:right-auto max-sm:left-0">
        <p class="note px-4 py-1">{{ session.session?.account?.name }}, {{ session.session?.role }}</p>
        <MenuItem
          v-for="w in session.session?.workspaces.filter((x) => x.id !== session.session?.workspace?.id)"
          :key="w.id"
          v-slot="{ active }"
        >
          <button type="button" class="block w-full px-4 py-2 text-left" :class="{ 'bg-action-pale': active }" @click="moveTo(w.id)">
            Go to {{ w.name }}
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <RouterLink to="/people" class="block px-4 py-2" :class="{ 'bg-action-pale': active }">People and workspace</RouterLink>
        </MenuItem>
        <MenuItem v-if="!session.session?.account?.demo" v-slot="{ active }">
          <RouterLink to="/account" class="block px-4 py-2" :class="{ 'bg-action-pale': active }">Your account</RouterLink>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="block w-full px-4 py-2 text-left" :class="{ 'bg-action-pale': active }" @click="$emit('keys')">
            Keys
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="block w-full px-4 py-2 text-left" :class="{ 'bg-action-pale': active }" @click="signOut">
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  </header>
</template>
