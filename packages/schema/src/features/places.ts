/** Places, and what is put there. */
import { z } from 'zod';
import { changedFamilies, okChanged } from '../families.js';
import { route } from '../route.js';
import { answer, format, id, isoTime, line, sha256, targetFormat, use } from '../words.js';
import { job } from './jobs.js';
import { verdict } from './licenses.js';

const pickFaces = z.array(id).min(1).max(100);

export const install = z.object({
  id,
  faceId: id,
  face: z.string(),
  placeId: id,
  place: z.string(),
  format,
  bytes: z.number().int(),
  version: z.string(),
  /** Where a person can look at it, else its name at the place. */
  address: z.string(),
  link: z.string().nullable(),
  installedAt: isoTime,
  installedBy: z.string(),
  role: z.string().nullable(),
  byHand: z.boolean(),
  /** What was found when it was looked at last; `unknown` where the place did not answer. */
  seen: z.enum(['same', 'other', 'absent', 'unknown']),
  seenAt: isoTime.nullable(),
  /** Whether it waits for its computer to fetch it or take it off. */
  waits: z.boolean(),
  /** Whether the library has another file of this face by now. */
  outdated: z.boolean(),
});
export type Install = z.infer<typeof install>;

const placeSetting = z.object({
  id: z.enum(['address', 'key', 'user', 'hostKey', 'page']),
  label: z.string(),
  kind: z.enum(['address', 'server', 'secret', 'folder', 'word', 'lines']),
  hint: z.string(),
  example: z.string(),
  optional: z.boolean().optional(),
});
export type PlaceSetting = z.infer<typeof placeSetting>;

/** A kind of place, and what a person enters for one. */
export const placeKind = z.object({
  id: z.string(),
  name: z.string(),
  article: z.string(),
  about: z.string(),
  settings: z.array(placeSetting),
});
export type PlaceKind = z.infer<typeof placeKind>;

const taken = z.enum(['accepted', 'refused']);
const limit = (most: number) => z.number().int().min(1).max(most).nullable();
/** What a place takes and does, as a person edits it; `contradictions` of the core says what cannot be. Sizes in bytes. */
export const placeRules = z.object({
  use,
  accepts: z.object({
    formats: z.array(targetFormat).min(1).max(4),
    prefer: targetFormat,
    maxBytes: z
      .number()
      .int()
      .min(1024)
      .max(1024 ** 3),
    collections: taken,
    variable: taken,
    color: taken,
  }),
  embedding: z.object({ restricted: taken, bitmapOnly: taken }),
  limits: z.object({ perUpload: limit(10_000), faces: limit(100_000), familyName: limit(255) }),
  twins: z.enum(['beside', 'replaces', 'refused']),
  replacing: z.enum(['over', 'remove-first']),
  roles: z
    .array(
      z.object({
        id: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/),
        name: z.string().trim().min(1).max(60),
        label: z.string().trim().min(1).max(120),
        running: z.boolean().optional(),
        many: z.boolean().optional(),
      }),
    )
    .max(20),
  shows: z.object({ text: z.string().max(5000), capitals: z.boolean(), spaced: z.boolean() }),
  families: limit(100),
});
export type PlaceRules = z.infer<typeof placeRules>;

export const place = z.object({
  id,
  name: z.string(),
  profileId: z.string(),
  profile: z.string(),
  address: z.string(),
  use,
  roles: z.array(
    z.object({ id: z.string(), name: z.string(), label: z.string(), running: z.boolean().optional(), many: z.boolean().optional() }),
  ),
  settings: z.array(placeSetting),
  /** What is set beside address and key, which is a secret. */
  user: z.string(),
  hostKey: z.string(),
  page: z.string(),
  /** Whether a person puts files there, with a kit and a list. */
  byHand: z.boolean(),
  /** Whether it is a computer that fetches its files itself. */
  fetches: z.boolean(),
  /** Whether people choose among its faces, so that each is offered or withheld. */
  isList: z.boolean(),
  rules: placeRules,
  /** Whether these are rules of its own. */
  ownRules: z.boolean(),
  howTo: z.array(z.string()),
  formats: z.array(targetFormat),
  maxBytes: z.number().int(),
  installs: z.array(install),
  version: z.number().int(),
});
export type Place = z.infer<typeof place>;

/** What would mend a finding: something done to the file or the place, or somewhere to go. */
export const remedy = z.object({
  id: z.string(),
  label: z.string(),
  /** What will happen, said before. */
  will: z.string(),
  goTo: z.enum(['license', 'library', 'place']).nullable(),
  /** Whether it can be chosen: it changes the file or takes something off the place. */
  doable: z.boolean(),
  /** Why the license does not let it be done. */
  forbidden: z.string().nullable(),
  /** Faces that could go instead. */
  faces: z.array(z.object({ faceId: id, name: z.string() })),
});

export const preflightFinding = z.object({
  code: z.string(),
  severity: z.enum(['stops', 'mended', 'ask', 'note']),
  message: z.string(),
  remedies: z.array(remedy),
  overridable: z.boolean(),
});

/** A face that somebody is about to hand over, with what must be known and said before. */
export const handover = z.object({
  faceId: id,
  face: z.string(),
  /** Verdicts of every use that handing it over is, the deciding one first. */
  verdicts: z.array(verdict),
  answer,
  /** Sentences that ask for attention: an end or a limit that is near. */
  notes: z.array(z.string()),
  statement: z.string(),
  overrideStatement: z.string(),
  licenseName: z.string().nullable(),
});
export type Handover = z.infer<typeof handover>;

export const kit = z.object({ id, faceIds: z.array(id), by: z.string(), createdAt: isoTime });

export const preflightFace = z.object({
  faceId: id,
  face: z.string(),
  placeId: id,
  place: z.string(),
  fit: z.enum(['fits', 'fits-after-remedy', 'does-not-fit']),
  /** Ids of the remedies that were chosen, and of those that would mend all that stops it with one press. */
  chosen: z.array(z.string()),
  mend: z.array(z.string()).nullable(),
  findings: z.array(preflightFinding),
  clear: z.boolean(),
  /** Whether nothing but the missing right stops it, which an owner may override with a reason. */
  overridable: z.boolean(),
  /** What an owner who does so is asked to put their name to instead of the statement. */
  overrideStatement: z.string(),
  verdict,
  /** The exact words the person is asked to put their name to. */
  statement: z.string(),
  licenseName: z.string().nullable(),
  sending: z
    .object({
      format,
      bytes: z.number().int(),
      fromBytes: z.number().int(),
      comparison: z.string(),
    })
    .nullable(),
});
export type PreflightFace = z.infer<typeof preflightFace>;

export const delivery = z.object({
  id,
  placeId: id,
  place: z.string(),
  address: z.string(),
  state: job.shape.state,
  /** Whether faces are put there or taken off. */
  errand: z.enum(['put', 'withdraw']),
  batchId: id.nullable(),
  jobId: id,
  createdAt: isoTime,
  by: z.string(),
  items: z.array(
    z.object({
      faceId: id,
      face: z.string(),
      state: z.enum(['waiting', 'installed', 'refused', 'unknown', 'removed']),
      message: z.string(),
      bytes: z.number().int().nullable(),
      sha256: sha256.nullable(),
      /** What was declared; taking a face off needs nothing. */
      statement: z
        .object({
          words: z.string(),
          person: z.string(),
          at: isoTime,
          answer,
          note: z.string(),
          /** Whether an owner went ahead although the answer was no; `note` says why. */
          overridden: z.boolean(),
          licenseName: z.string().nullable(),
        })
        .nullable(),
    }),
  ),
});
export type Delivery = z.infer<typeof delivery>;

const remedyIds = z.array(z.string().max(80)).max(10);
const role = z
  .string()
  .regex(/^[a-z][a-z0-9-]{0,39}$/)
  .nullable();

/** Faces that go to one place. */
export const deliveryOrder = z.object({
  placeId: id,
  role: role.default(null),
  faces: z
    .array(
      z.object({
        faceId: id,
        /** Remedies that were chosen for it, by their ids. */
        remedies: remedyIds.default([]),
        statement: z.string().max(2000),
        note: z.string().trim().max(1000),
        /** An owner goes ahead although the answer is no; `note` says why. */
        override: z.boolean().default(false),
      }),
    )
    .min(1)
    .max(500),
});

/** What happened to a face at a place. */
export const installEvent = z.object({
  at: isoTime,
  place: z.string(),
  kind: z.string(),
  by: z.string(),
  version: z.string(),
  note: z.string(),
});

/** What must come off where. */
export const withdrawal = z.object({
  installs: z.array(install.extend({ byHandSteps: z.array(z.string()) })),
});

export const placesRoutes = {
  listPlaceKinds: route({
    method: 'GET',
    path: '/api/place-kinds',
    access: 'viewer',
    summary: 'Kinds of places, and what is entered for each',
    answer: z.array(placeKind),
  }),
  listPlaces: route({
    method: 'GET',
    path: '/api/places',
    access: 'viewer',
    summary: 'Places and what is installed there',
    answer: z.array(place),
  }),
  createPlace: route({
    method: 'POST',
    affects: 'library',
    path: '/api/places',
    access: 'owner',
    summary: 'Add a place',
    body: z.object({
      name: line(120),
      profileId: z.string().max(40),
      /** What the kind of place calls it: a web address, or the name of a folder. */
      address: line(300),
      key: z.string().max(8000).default(''),
      user: z.string().trim().max(200).default(''),
      hostKey: z.string().trim().max(200).default(''),
      page: z.string().trim().max(300).default(''),
      byHand: z.boolean().default(false),
    }),
    answer: place,
  }),
  changePlace: route({
    method: 'PATCH',
    affects: 'library',
    path: '/api/places/:placeId',
    access: 'owner',
    summary: 'Correct a place’s name, address or key',
    params: z.object({ placeId: id }),
    body: z.object({
      name: line(120),
      address: line(300),
      /** Empty: as it is. */
      key: z.string().max(8000),
      user: z.string().trim().max(200).default(''),
      hostKey: z.string().trim().max(200).default(''),
      page: z.string().trim().max(300).default(''),
      version: z.number().int(),
    }),
    answer: place.extend({ changed: changedFamilies }),
  }),
  removePlace: route({
    method: 'DELETE',
    affects: 'library',
    path: '/api/places/:placeId',
    access: 'owner',
    summary: 'Forget a place that has nothing installed',
    params: z.object({ placeId: id }),
  }),
  checkForPlace: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/places/:placeId/preflight',
    access: 'viewer',
    summary: 'Foresee what a place will say to some faces',
    params: z.object({ placeId: id }),
    body: z.object({ faceIds: pickFaces, remedies: remedyIds.default([]), role: role.default(null) }),
    answer: z.array(preflightFace),
  }),
  checkForPlaces: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/preflight',
    access: 'viewer',
    summary: 'Foresee what several places will say to some faces; nothing is converted for that',
    body: z.object({
      faceIds: z.array(id).min(1).max(500),
      placeIds: z.array(id).min(1).max(20),
      roles: z.record(id, role).default({}),
      /** Remedies by face and place; what is left out has none. */
      chosen: z
        .array(z.object({ faceId: id, placeId: id, remedies: remedyIds }))
        .max(10_000)
        .default([]),
      /** Choose whatever mends all that stops a face. */
      mendAll: z.boolean().default(false),
    }),
    answer: z.object({
      cells: z.array(preflightFace),
      /** Places that could not be looked at, and why; their present state is then not known. */
      unseen: z.array(z.object({ placeId: id, why: z.string() })),
    }),
  }),
  createDelivery: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/deliveries',
    access: 'editor',
    summary: 'Put faces at a place',
    body: deliveryOrder,
    answer: delivery,
  }),
  createDeliveries: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/delivery-batches',
    access: 'editor',
    summary: 'Put faces at several places in one go',
    body: z.object({
      /** Made up by whoever sends it: the same batch twice is one. */
      batchId: id,
      orders: z.array(deliveryOrder).min(1).max(20),
    }),
    answer: z.array(delivery),
  }),
  getDeliveries: route({
    method: 'GET',
    path: '/api/delivery-batches/:batchId',
    access: 'viewer',
    summary: 'What became of each face at each place of a batch',
    params: z.object({ batchId: id }),
    answer: z.object({ deliveries: z.array(delivery), changed: changedFamilies.nullable() }),
  }),
  checkInstalls: route({
    method: 'POST',
    affects: 'library',
    path: '/api/installs/check',
    access: 'editor',
    summary: 'Look at every place, or one, whether what we put there is there and the same',
    body: z.object({ placeId: id.nullable().default(null) }),
    answer: z.object({ jobId: id }),
  }),
  planWithdrawal: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/withdrawals/plan',
    access: 'viewer',
    summary: 'What of some faces, of a license or of a place must come off where',
    body: z.object({
      faceIds: z.array(id).max(500).default([]),
      licenseId: id.nullable().default(null),
      placeId: id.nullable().default(null),
      /** Only installs whose right has ended. */
      ended: z.boolean().default(false),
    }),
    answer: withdrawal,
  }),
  withdraw: route({
    method: 'POST',
    affects: 'library',
    path: '/api/withdrawals',
    access: 'editor',
    summary: 'Take installs off their places, and look whether they are gone',
    body: z.object({ batchId: id, installIds: z.array(id).min(1).max(500) }),
    answer: z.array(delivery),
  }),
  confirmByHand: route({
    method: 'POST',
    affects: 'library',
    path: '/api/places/:placeId/by-hand',
    access: 'editor',
    summary: 'Record that a person put faces at a place, or took them off',
    params: z.object({ placeId: id }),
    body: z.object({
      put: z
        .array(
          z.object({ faceId: id, remedies: remedyIds.default([]), statement: z.string().max(2000), note: z.string().trim().max(1000) }),
        )
        .max(100)
        .default([]),
      removed: z.array(id).max(100).default([]),
    }),
    answer: okChanged,
  }),
  getPlaceKit: route({
    doing: 'Packing a kit',
    job: 'again',
    method: 'GET',
    path: '/api/places/:placeId/kit',
    access: 'editor',
    summary: 'What a person takes along to a place: right files under right names, a how-to, terms, special characters',
    params: z.object({ placeId: id }),
    query: z.object({ faces: z.string().max(4000).default('') }),
    answer: z.string(),
    carries: 'bytes',
  }),
  placeAdvice: route({
    method: 'GET',
    path: '/api/places/:placeId/advice',
    access: 'viewer',
    summary: 'What of a place’s list deserves a second look: too long, faces alike, faces not cleared',
    params: z.object({ placeId: id }),
    answer: z.array(z.object({ message: z.string(), faceIds: z.array(id) })),
  }),
  arrangeInstalls: route({
    method: 'POST',
    affects: 'library',
    path: '/api/places/:placeId/arrange',
    access: 'editor',
    summary:
      'Give several faces of a place one role, move them to another kind there, or put them first in the order in which they are named',
    params: z.object({ placeId: id }),
    body: z.object({
      installIds: z.array(id).min(1).max(200),
      role: z
        .string()
        .regex(/^[a-z][a-z0-9-]{0,39}$/)
        .nullable()
        .default(null),
      kind: z.enum(['plain', 'with feet', 'handwriting', 'display']).nullable().default(null),
      ordered: z.boolean().default(false),
    }),
    answer: okChanged.extend({ refused: z.array(z.string()) }),
  }),
  fetchInstall: route({
    method: 'GET',
    path: '/api/installs/:installId/file',
    access: 'editor',
    summary: 'The file as it lies at its place',
    params: z.object({ installId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
  listPicture: route({
    method: 'GET',
    path: '/api/faces/:faceId/picture',
    access: 'viewer',
    summary: 'A picture of a face for a list: its name, or a sample of its own script where it cannot write its name',
    params: z.object({ faceId: id }),
    query: z.object({ as: z.enum(['svg', 'png']).default('svg') }),
    answer: z.string(),
    carries: 'bytes',
  }),
  computerCode: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/places/:placeId/code',
    access: 'owner',
    summary: 'A code with which a computer joins, once and within a quarter of an hour',
    params: z.object({ placeId: id }),
    answer: z.object({ code: z.string(), endsAt: isoTime }),
  }),
  getComputer: route({
    method: 'GET',
    path: '/api/places/:placeId/computer',
    access: 'viewer',
    summary: 'Whether a computer joined, and when it asked last',
    params: z.object({ placeId: id }),
    answer: z.object({ joinedAt: isoTime.nullable(), syncedAt: isoTime.nullable(), system: z.string(), leaving: z.array(id) }),
  }),
  joinComputer: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/computers/join',
    access: 'public',
    summary: 'A computer joins with its code; the token is only in this answer',
    body: z.object({ code: line(40), system: line(120) }),
    answer: z.object({ token: z.string(), computer: z.string(), workspace: z.string() }),
  }),
  syncComputer: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/computers/sync',
    access: 'public',
    summary: 'A computer tells what is there, and is told what shall be; by its token',
    body: z.object({
      report: z.array(z.object({ installId: id, state: z.enum(['there', 'missing', 'changed', 'removed']) })).max(5000),
    }),
    answer: z.object({
      wanted: z.array(z.object({ installId: id, name: z.string(), sha256, bytes: z.number().int() })),
      remove: z.array(id),
    }),
  }),
  computerFile: route({
    method: 'GET',
    path: '/api/computers/files/:installId',
    access: 'public',
    summary: 'A file assigned to a computer; by its token',
    params: z.object({ installId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
  faceHistory: route({
    method: 'GET',
    path: '/api/faces/:faceId/installs',
    access: 'viewer',
    summary: 'Where a face was put, taken off and looked at, newest first',
    params: z.object({ faceId: id }),
    answer: z.array(installEvent),
  }),
  changeRules: route({
    method: 'PUT',
    affects: 'library',
    path: '/api/places/:placeId/rules',
    access: 'owner',
    summary: 'Change what a place takes; null goes back to the rules of its kind',
    params: z.object({ placeId: id }),
    body: z.object({ rules: placeRules.nullable(), version: z.number().int() }),
    /** `doubts`: what lies there and would not be taken by these rules, in sentences. */
    answer: z.object({ place, doubts: z.array(z.string()) }),
  }),
  assignRole: route({
    method: 'POST',
    affects: 'library',
    path: '/api/installs/:installId/role',
    access: 'editor',
    summary: 'Give a face that lies at a place a role there',
    params: z.object({ installId: id }),
    body: z.object({ role: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/) }),
    answer: okChanged,
  }),
  getDelivery: route({
    method: 'GET',
    path: '/api/deliveries/:deliveryId',
    access: 'viewer',
    summary: 'One delivery and what became of each face',
    params: z.object({ deliveryId: id }),
    /** `changed`: families of its faces as they are now, once it is over. */
    answer: delivery.extend({ changed: changedFamilies.nullable() }),
  }),
  lookAgain: route({
    method: 'POST',
    affects: 'library',
    path: '/api/deliveries/:deliveryId/look',
    access: 'editor',
    summary: 'Look at the place for files of which nobody knows whether they arrived; nothing is sent',
    params: z.object({ deliveryId: id }),
    answer: delivery.extend({ changed: changedFamilies }),
  }),
  removeInstall: route({
    method: 'DELETE',
    affects: 'library',
    path: '/api/installs/:installId',
    access: 'editor',
    summary: 'Take a face off a place',
    params: z.object({ installId: id }),
    answer: okChanged,
  }),
  checkKit: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/kits/check',
    access: 'viewer',
    summary: 'What handing some faces to a web builder takes: verdicts for website, changing and passing on, and the statement',
    body: z.object({ faceIds: pickFaces }),
    answer: z.array(handover),
  }),
  createKit: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/kits',
    access: 'editor',
    summary: 'Make a handover kit for a website; the statements are kept',
    body: z.object({
      faces: z
        .array(
          z.object({
            faceId: id,
            statement: z.string().max(2000),
            note: z.string().trim().max(1000),
            override: z.boolean().default(false),
          }),
        )
        .min(1)
        .max(100),
    }),
    answer: kit,
  }),
  getKit: route({
    doing: 'Packing a kit',
    job: 'again',
    method: 'GET',
    path: '/api/kits/:kitId',
    access: 'viewer',
    summary: 'A handover kit as a ZIP',
    params: z.object({ kitId: id }),
    query: z.object({ layout: z.enum(['flat', 'siblings', 'nested']).default('siblings') }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
