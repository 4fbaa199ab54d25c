<script setup lang="ts">
import { onMounted, ref } from 'vue';
import type { Answer, Invitation, Role } from '@orderly-glyph/schema';
import { addressOf, call, routes, sentence, watchJob } from '../../platform/api';
import { useLibrary } from '../library/library';
import { useSending } from '../intake/sending';
import { useSession } from './session';
import { useVoice } from '../../platform/voice';
import { when } from '../../platform/words';

const session = useSession();
const voice = useVoice();
const library = useLibrary();
const people = ref<Answer<typeof routes.listMembers> | null>(null);
const invitations = ref<Invitation[]>([]);
const form = ref({ note: '', role: 'editor' as Role });
/** An address that was just made and is shown this once. */
const link = ref<{ about: string; address: string; until: string } | null>(null);
const problem = ref('');
const may = (): boolean => session.isOwner;
const business = ref({ name: session.session?.workspace?.name ?? '', timeZone: session.session?.workspace?.timeZone ?? 'UTC' });
const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone')];
const ROLES: { value: Role; word: string }[] = [
  { value: 'owner', word: 'Owner: everything, people and places too' },
  { value: 'editor', word: 'Editor: bring in, license, deliver' },
  { value: 'viewer', word: 'Viewer: look and download' },
];
async function load(): Promise<void> {
  try {
    people.value = await call(routes.listMembers);
    invitations.value = session.isOwner ? await call(routes.listInvitations) : [];
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
onMounted(load);
const full = (path: string): string => new URL(path, location.href).href;
async function invite(): Promise<void> {
  problem.value = '';
  try {
    const made = await call(routes.createInvitation, { body: form.value });
    link.value = { about: `An invitation${made.note ? ` for ${made.note}` : ''}`, address: full(made.path), until: made.expiresAt };
    form.value = { note: '', role: 'editor' };
    await load();
  } catch (error) {
    problem.value = sentence(error);
  }
}
async function attempt(work: () => Promise<unknown>, told = ''): Promise<void> {
  try {
    await work();
    if (told) voice.say(told);
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
  await load();
}
const change = (memberId: string, version: number, role: Role): Promise<void> =>
  attempt(() => call(routes.changeMember, { params: { memberId }, body: { role, version } }));
const remove = (memberId: string, name: string): Promise<void> =>
  attempt(() => call(routes.removeMember, { params: { memberId } }), `${name} is out of the workspace.`);
const revoke = (i: Invitation): Promise<void> =>
  attempt(() => call(routes.revokeInvitation, { params: { invitationId: i.id } }), 'The invitation no longer holds.');
async function reset(memberId: string, name: string): Promise<void> {
  try {
    const made = await call(routes.resetMember, { params: { memberId }, body: {} });
    link.value = { about: `A new password for ${name}`, address: full(made.path), until: made.expiresAt };
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const sending = useSending();
const reading = ref('');
/** Whether the confirmations that the export speaks of count here. */
const vouched = ref(false);
/** The files come in like any others; then what the export says of them is taken over. */
async function readBack(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = '';
  if (!file) return;
  reading.value = 'Sending …';
  const intakeId = await sending.send([{ file, path: file.name }]);
  if (!intakeId) return void (reading.value = sending.problem);
  const { intake } = await call(routes.getIntake, { params: { intakeId } });
  watchJob(intake.jobId!, (job) => {
    reading.value = job.total > 0 ? `Sorting, ${job.done} of ${job.total}` : 'Sorting …';
    if (job.state === 'queued' || job.state === 'running') return;
    if (job.state !== 'done') return void (reading.value = job.message);
    void call(routes.importWorkspace, { body: { intakeId, vouched: vouched.value } }).then(
      async (done) => {
        reading.value = [`${done.families} families and ${done.licenses} licenses are here.`, ...done.left].join(' ');
        await library.load();
      },
      (error: unknown) => (reading.value = sentence(error)),
    );
  });
}
async function keepBusiness(): Promise<void> {
  try {
    session.set(await call(routes.changeWorkspace, { body: business.value }));
    voice.say('Kept. Terms begin and end by the days of that time zone.');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  }
}
const startingOver = ref(false);
async function startOver(): Promise<void> {
  startingOver.value = true;
  try {
    await call(routes.startSampleOver);
    // Everything that this page holds is of before.
    location.assign('/');
  } catch (error) {
    voice.say(sentence(error), 'fault');
  } finally {
    startingOver.value = false;
  }
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-8 max-sm:px-4">
    <h1>People of {{ session.session?.workspace?.name }}</h1>
    <div v-if="link" class="mt-4 border-l-4 border-action bg-action-pale px-4 py-3" role="status">
      <p>{{ link.about }}. Pass this address on yourself; it works once, until {{ when(link.until) }}, and is not shown again.</p>
      <p class="code mt-1 break-all">{{ link.address }}</p>
      <button type="button" class="press-quiet mt-2" @click="voice.copy(link.address, 'The address is copied.')">Copy it</button>
    </div>
    <ul v-if="people" class="mt-5 border-t border-rule">
      <li v-for="p in people" :key="p.id" class="flex flex-wrap items-center justify-between gap-3 border-b border-rule py-3">
        <div>
          <p>{{ p.name }}{{ p.you ? ', that is you' : '' }}</p>
          <p class="note">{{ p.email }}</p>
        </div>
        <div class="flex items-center gap-3">
          <select
            v-if="may()"
            class="field w-auto"
            :value="p.role"
            :aria-label="`Role of ${p.name}`"
            @change="change(p.id, p.version, ($event.target as HTMLSelectElement).value as Role)"
          >
            <option v-for="r in ROLES" :key="r.value" :value="r.value">{{ r.value }}</option>
          </select>
          <span v-else>{{ p.role }}</span>
          <button v-if="may() && !p.you" type="button" class="link" @click="reset(p.id, p.name)">
            New password <span class="sr-only">for {{ p.name }}</span>
          </button>
          <button v-if="may() && !p.you" type="button" class="link" @click="remove(p.id, p.name)">
            Take out <span class="sr-only">{{ p.name }}</span>
          </button>
        </div>
      </li>
    </ul>
    <section v-if="invitations.length > 0" class="mt-6" aria-labelledby="invited">
      <h2 id="invited">Invited, and not here yet</h2>
      <ul class="mt-1 border-t border-rule">
        <li v-for="i in invitations" :key="i.id" class="flex items-baseline justify-between gap-4 border-b border-rule py-2">
          <span
            >{{ i.note || 'Somebody' }}, as {{ i.role }} <span class="note">by {{ i.by }}, until {{ when(i.expiresAt) }}</span></span
          >
          <button v-if="may()" type="button" class="link text-note" @click="revoke(i)">
            Take it back<span class="sr-only">, the invitation {{ i.note ? `for ${i.note}` : '' }}</span>
          </button>
        </li>
      </ul>
    </section>
    <form v-if="may()" class="mt-8" @submit.prevent="invite">
      <h2>Invite a person</h2>
      <p class="note">You get an address to pass on. They join themselves, with a new account or with the one they have.</p>
      <div class="mt-3 grid gap-4 sm:grid-cols-2">
        <label>For whom<input v-model="form.note" class="field" maxlength="120" placeholder="So that you know later" /></label>
        <label
          >Role<select v-model="form.role" class="field">
            <option v-for="r in ROLES" :key="r.value" :value="r.value">{{ r.word }}</option>
          </select></label
        >
      </div>
      <p v-if="problem" role="alert" class="mt-3 text-no">{{ problem }}</p>
      <button class="press mt-4">Make an invitation</button>
    </form>
    <form v-if="may()" class="mt-8" @submit.prevent="keepBusiness">
      <h2>The workspace</h2>
      <div class="mt-3 grid gap-4 sm:grid-cols-2">
        <label>Name<input v-model="business.name" class="field" required maxlength="120" /></label>
        <label
          >Time zone<select v-model="business.timeZone" class="field">
            <option v-for="z in ZONES" :key="z" :value="z">{{ z.replace(/_/g, ' ') }}</option>
          </select></label
        >
      </div>
      <button class="press-quiet mt-4">Keep it</button>
    </form>
    <section v-if="may()" class="mt-8" aria-labelledby="take">
      <h2 id="take">Take everything along</h2>
      <p class="mt-1">
        <a class="link" :href="addressOf(routes.exportWorkspace)" download>Download all that this workspace owns</a>
        <span class="note block"
          >One open ZIP: files and terms as they came, licenses with their history and evidence as JSON with its schema.</span
        >
      </p>
      <p class="mt-3">
        <label class="press-quiet inline-flex cursor-pointer focus-within:outline-2"
          ><input type="file" accept=".zip" class="sr-only" :disabled="sending.now !== null" @change="readBack" />Read back such a
          ZIP</label
        >
        <span class="note ml-3">{{ reading }}</span>
      </p>
      <label class="mt-2 flex items-start gap-2"
        ><input v-model="vouched" type="checkbox" class="accent-action" /><span
          >This export is our own, and what was confirmed there is confirmed here.
          <span class="note">Otherwise every license waits until somebody here has looked at it.</span></span
        ></label
      >
    </section>
    <section v-if="session.session?.workspace?.isDemo" class="mt-8" aria-labelledby="over">
      <h2 id="over">The sample business</h2>
      <p class="mt-1">Everything here may be changed, added and deleted. Nobody but you sees it.</p>
      <button type="button" class="press-quiet mt-3" :disabled="startingOver" @click="startOver">
        {{ startingOver ? 'Starting over …' : 'Start the sample over' }}
      </button>
      <span class="note ml-3">Puts all of it back to how it was at first. Your own workspaces stay as they are.</span>
    </section>
  </div>
</template>
