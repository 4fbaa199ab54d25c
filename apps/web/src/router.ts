import { nextTick } from 'vue';
import { createRouter, createWebHistory } from 'vue-router';
import { useLibrary } from './features/library/library';
import { useSession } from './features/accounts/session';

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
    { path: '/sign-in', component: () => import('./features/accounts/SignIn.vue'), meta: { title: 'Sign in', open: true } },
    { path: '/desk', component: () => import('./features/desk/DeskChapter.vue'), meta: { title: 'Desk' } },
    { path: '/intake', component: () => import('./features/intake/IntakeChapter.vue'), meta: { title: 'Intake' } },
    { path: '/intake/:intakeId', component: () => import('./features/intake/IntakeReport.vue'), props: true, meta: { title: 'Intake' } },
    { path: '/library', component: () => import('./features/library/LibraryChapter.vue'), meta: { title: 'Library' } },
    { path: '/library/characters', component: () => import('./features/faces/CharacterTable.vue'), meta: { title: 'Characters' } },
    { path: '/library/compare', component: () => import('./features/faces/CompareFaces.vue'), meta: { title: 'Compare' } },
    { path: '/library/text', component: () => import('./features/faces/TextCheck.vue'), meta: { title: 'Check a text' } },
    { path: '/library/try', component: () => import('./features/faces/TryFace.vue'), meta: { title: 'Try a face' } },
    { path: '/library/versions', component: () => import('./features/faces/CompareVersions.vue'), meta: { title: 'Two versions' } },
    { path: '/library/words', component: () => import('./features/faces/ReadyTexts.vue'), meta: { title: 'Ready texts' } },
    { path: '/library/order', component: () => import('./features/library/LibraryOrder.vue'), meta: { title: 'Order' } },
    { path: '/library/languages', component: () => import('./features/library/LanguageTable.vue'), meta: { title: 'What they write' } },
    { path: '/library/proof', component: () => import('./features/proof-sheets/ProofSheets.vue'), meta: { title: 'Proof sheets' } },
    {
      path: '/library/family/:familyId',
      component: () => import('./features/faces/FamilyPage.vue'),
      props: true,
      meta: { title: 'Family' },
    },
    {
      path: '/proof/:secret',
      component: () => import('./features/proof-sheets/PublicProofSheet.vue'),
      props: true,
      meta: { title: 'Proof sheet', open: true },
    },
    { path: '/licenses', component: () => import('./features/licenses/LicensesChapter.vue'), meta: { title: 'Licenses' } },
    { path: '/licenses/audit', component: () => import('./features/reports/AuditPage.vue'), meta: { title: 'Audit of rights' } },
    { path: '/licenses/proof', component: () => import('./features/reports/ProofOfRights.vue'), meta: { title: 'Proof of rights' } },
    { path: '/licenses/uses', component: () => import('./features/licenses/UsesTable.vue'), meta: { title: 'Faces by use' } },
    {
      path: '/licenses/:licenseId',
      component: () => import('./features/licenses/LicenseForm.vue'),
      props: true,
      meta: { title: 'License' },
    },
    { path: '/foundry', component: () => import('./features/conversions/ConvertFaces.vue'), meta: { title: 'Convert' } },
    { path: '/foundry/icons', component: () => import('./features/icon-sets/IconSets.vue'), meta: { title: 'Icon sets' } },
    {
      path: '/foundry/icons/:setId',
      component: () => import('./features/icon-sets/IconSetPage.vue'),
      props: true,
      meta: { title: 'Icon set' },
    },
    { path: '/foundry/typefaces', component: () => import('./features/typefaces/TypefaceList.vue'), meta: { title: 'Drawn typefaces' } },
    {
      path: '/foundry/typefaces/:typefaceId',
      component: () => import('./features/typefaces/TypefacePage.vue'),
      props: true,
      meta: { title: 'Drawn typeface' },
    },
    { path: '/foundry/pictures', component: () => import('./features/inquiries/InquiryList.vue'), meta: { title: 'Faces in pictures' } },
    {
      path: '/foundry/pictures/:inquiryId',
      component: () => import('./features/inquiries/FindFace.vue'),
      meta: { title: 'The face in a picture' },
    },
    { path: '/foundry/words', component: () => import('./features/conversions/DrawWords.vue'), meta: { title: 'Words as shapes' } },
    { path: '/places', component: () => import('./features/places/PlacesChapter.vue'), meta: { title: 'Places' } },
    { path: '/places/check', component: () => import('./features/places/PlaceCheck.vue'), meta: { title: 'Check for a place' } },
    { path: '/places/withdraw', component: () => import('./features/places/WithdrawPlan.vue'), meta: { title: 'What comes off where' } },
    {
      path: '/places/:placeId',
      component: () => import('./features/places/PlacePage.vue'),
      props: true,
      meta: { title: 'Place' },
    },
    {
      path: '/places/:placeId/rules',
      component: () => import('./features/places/PlaceRules.vue'),
      props: true,
      meta: { title: 'What a place takes' },
    },
    {
      path: '/deliveries/batch/:batchId',
      component: () => import('./features/places/DeliveryReport.vue'),
      props: true,
      meta: { title: 'Delivery' },
    },
    {
      path: '/deliveries/:deliveryId',
      component: () => import('./features/places/DeliveryReport.vue'),
      props: true,
      meta: { title: 'Delivery' },
    },
    { path: '/places/house-styles', component: () => import('./features/house-styles/HouseStyles.vue'), meta: { title: 'House styles' } },
    { path: '/handover', component: () => import('./features/places/HandOver.vue'), meta: { title: 'Web kit' } },
    { path: '/account', component: () => import('./features/accounts/AccountPage.vue'), meta: { title: 'Your account' } },
    { path: '/join/:token', component: () => import('./features/accounts/JoinPage.vue'), props: true, meta: { title: 'Join', open: true } },
    {
      path: '/reset/:token',
      component: () => import('./features/accounts/ResetPage.vue'),
      props: true,
      meta: { title: 'New password', open: true },
    },
    { path: '/people', component: () => import('./features/accounts/PeopleChapter.vue'), meta: { title: 'People' } },
    { path: '/:rest(.*)*', component: () => import('./NotHere.vue'), meta: { title: 'Not here' } },
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
