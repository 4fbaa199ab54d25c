/** Places, and what is put there. */
import { z } from 'zod';
import { changedFamilies, okChanged } from '../families.js';
import { route } from '../route.js';
import { answer, format, id, isoTime, line, sha256, targetFormat, use } from '../words.js';
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
});
export type Install = z.infer<typeof install>;

const placeSetting = z.object({
  id: z.enum(['address', 'key']),
  label: z.string(),
  kind: z.enum(['address', 'secret', 'folder']),
  hint: z.string(),
  example: z.string(),
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

export const place = z.object({
  id,
  name: z.string(),
  profileId: z.string(),
  profile: z.string(),
  address: z.string(),
  use,
  roles: z.array(z.object({ id: z.string(), label: z.string() })),
  settings: z.array(placeSetting),
  formats: z.array(targetFormat),
  maxBytes: z.number().int(),
  installs: z.array(install),
  version: z.number().int(),
});
export type Place = z.infer<typeof place>;

/** What would mend a finding: a conversion, or somewhere to go. */
export const remedy = z.object({
  id: z.string(),
  label: z.string(),
  goTo: z.enum(['license', 'library']).nullable(),
  /** The format that the conversion leads to. */
  convertTo: targetFormat.nullable(),
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
  state: z.enum(['queued', 'running', 'done', 'failed', 'cancelled']),
  jobId: id,
  createdAt: isoTime,
  by: z.string(),
  items: z.array(
    z.object({
      faceId: id,
      face: z.string(),
      state: z.enum(['waiting', 'installed', 'refused', 'unknown']),
      message: z.string(),
      bytes: z.number().int().nullable(),
      sha256: sha256.nullable(),
      statement: z.object({
        words: z.string(),
        person: z.string(),
        at: isoTime,
        answer,
        note: z.string(),
        /** Whether an owner went ahead although the answer was no; `note` says why. */
        overridden: z.boolean(),
        licenseName: z.string().nullable(),
      }),
    }),
  ),
});
export type Delivery = z.infer<typeof delivery>;

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
    notInDemo: true,
    summary: 'Add a place',
    body: z.object({
      name: line(120),
      profileId: z.string().max(40),
      /** What the kind of place calls it: a web address, or the name of a folder. */
      address: line(300),
      key: z.string().trim().max(200).default(''),
    }),
    answer: place,
  }),
  changePlace: route({
    method: 'PATCH',
    affects: 'library',
    path: '/api/places/:placeId',
    access: 'owner',
    notInDemo: true,
    summary: 'Correct a place’s name, address or key',
    params: z.object({ placeId: id }),
    body: z.object({
      name: line(120),
      address: line(300),
      key: z.string().trim().max(200),
      version: z.number().int(),
    }),
    answer: place.extend({ changed: changedFamilies }),
  }),
  removePlace: route({
    method: 'DELETE',
    affects: 'library',
    path: '/api/places/:placeId',
    access: 'owner',
    notInDemo: true,
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
    body: z.object({ faceIds: pickFaces, convertTo: targetFormat.nullable() }),
    answer: z.array(preflightFace),
  }),
  createDelivery: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/deliveries',
    access: 'editor',
    summary: 'Put faces at a place',
    body: z.object({
      placeId: id,
      convertTo: targetFormat.nullable(),
      headings: z.boolean(),
      faces: z
        .array(
          z.object({
            faceId: id,
            statement: z.string().max(1000),
            note: z.string().trim().max(1000),
            /** An owner goes ahead although the answer is no; `note` says why. */
            override: z.boolean().default(false),
          }),
        )
        .min(1)
        .max(100),
    }),
    answer: delivery,
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
