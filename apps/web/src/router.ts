import { nextTick } from 'vue';
import { createRouter, createWebHistory } from 'vue-router';
import { useLibrary } from './stores/library';
import { useSession } from './stores/session';

declare module 'vue-router' {
  interface RouteMeta {
    title: string;
    open?: boolean;
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/desk' },
    { path: '/sign-in', component: () => import('./chapters/SignIn.vue'), meta: { title: 'Sign in', open: true } },
    { path: '/desk', component: () => import('./chapters/DeskChapter.vue'), meta: { title: 'Desk' } },
    { path: '/intake', component: () => import('./chapters/IntakeChapter.vue'), meta: { title: 'Intake' } },
    { path: '/intake/:intakeId', component: () => import('./chapters/IntakeReport.vue'), props: true, meta: { title: 'Intake' } },
    { path: '/library', component: () => import('./chapters/LibraryChapter.vue'), meta: { title: 'Library' } },
    { path: '/library/characters', component: () => import('./chapters/CharacterTable.vue'), meta: { title: 'Characters' } },
    { path: '/library/compare', component: () => import('./chapters/CompareFaces.vue'), meta: { title: 'Compare' } },
    { path: '/library/text', component: () => import('./chapters/TextCheck.vue'), meta: { title: 'Check a text' } },
    { path: '/library/try', component: () => import('./chapters/TryFace.vue'), meta: { title: 'Try a face' } },
    { path: '/library/versions', component: () => import('./chapters/CompareVersions.vue'), meta: { title: 'Two versions' } },
    { path: '/library/words', component: () => import('./chapters/ReadyTexts.vue'), meta: { title: 'Ready texts' } },
    { path: '/library/order', component: () => import('./chapters/LibraryOrder.vue'), meta: { title: 'Order' } },
    { path: '/library/languages', component: () => import('./chapters/LanguageTable.vue'), meta: { title: 'What they write' } },
    { path: '/library/proof', component: () => import('./chapters/ProofSheets.vue'), meta: { title: 'Proof sheets' } },
    {
      path: '/library/family/:familyId',
      component: () => import('./chapters/FamilyPage.vue'),
      props: true,
      meta: { title: 'Family' },
    },
    {
      path: '/proof/:secret',
      component: () => import('./chapters/PublicProof.vue'),
      props: true,
      meta: { title: 'Proof sheet', open: true },
    },
    { path: '/licenses', component: () => import('./chapters/LicensesChapter.vue'), meta: { title: 'Licenses' } },
    { path: '/licenses/audit', component: () => import('./chapters/AuditPage.vue'), meta: { title: 'Audit of rights' } },
    { path: '/licenses/proof', component: () => import('./chapters/ProofOfRights.vue'), meta: { title: 'Proof of rights' } },
    { path: '/licenses/uses', component: () => import('./chapters/UsesTable.vue'), meta: { title: 'Faces by use' } },
    { path: '/licenses/:licenseId', component: () => import('./chapters/LicenseForm.vue'), props: true, meta: { title: 'License' } },
    { path: '/places', component: () => import('./chapters/PlacesChapter.vue'), meta: { title: 'Places' } },
    { path: '/places/check', component: () => import('./chapters/PlaceCheck.vue'), meta: { title: 'Check for a place' } },
    { path: '/deliveries/:deliveryId', component: () => import('./chapters/DeliveryReport.vue'), props: true, meta: { title: 'Delivery' } },
    { path: '/handover', component: () => import('./chapters/HandOver.vue'), meta: { title: 'Web kit' } },
    { path: '/account', component: () => import('./chapters/AccountPage.vue'), meta: { title: 'Your account' } },
    { path: '/join/:token', component: () => import('./chapters/JoinPage.vue'), props: true, meta: { title: 'Join', open: true } },
    {
      path: '/reset/:token',
      component: () => import('./chapters/ResetPage.vue'),
      props: true,
      meta: { title: 'New password', open: true },
    },
    { path: '/people', component: () => import('./chapters/PeopleChapter.vue'), meta: { title: 'People' } },
    { path: '/:rest(.*)*', component: () => import('./chapters/NotHere.vue'), meta: { title: 'Not here' } },
  ],
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
});

router.beforeEach(async (to) => {
  const session = useSession();
  if (session.session === null) {
    try {
      await session.load();
    } catch {
      // The page itself shows that the server does not answer.
    }
  }
  if (session.session?.signedIn && session.session.workspace) return to.path === '/sign-in' ? '/desk' : true;
  return to.meta.open ? true : { path: '/sign-in', query: to.fullPath === '/desk' ? {} : { to: to.fullPath } };
});

router.afterEach((to, from) => {
  // A reader of the screen, and the Tab key, begin anew at the new page; not where only its address was filled in.
  if (from.matched.length > 0 && to.path !== from.path)
    void nextTick(() => {
      const sheet = document.getElementById('sheet');
      if (sheet && (document.activeElement === document.body || !sheet.contains(document.activeElement)))
        sheet.focus({ preventScroll: true });
    });
  document.title = `${to.meta.title} · Orderly Glyph`;
  const session = useSession();
  const library = useLibrary();
  if (session.session?.workspace && library.state === 'new' && !to.meta.open) void library.load();
});
