import { routes, type Answer } from '@orderly-glyph/schema';
import { attach } from '../../platform/http/attach.js';
import type { App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { withBody } from '../../platform/http/upload.js';
import { getBlob } from '../../platform/blobs/blobs.js';
import { findFaces } from '../faces/index.js';
import { describeCandidates } from './candidates.js';
import { changeInquiry, createInquiry, describeInquiry, findInquiry, listInquiries, pictureOf } from './inquiries.js';
import { InquiryEntity } from './rows.js';
import { shapePack } from './shapes.js';

export function inquiriesRoutes(app: App): Bound[] {
  const { db, compute } = app;
  return [
    bind(app, routes.decodePicture, ({ request, query }) =>
      withBody(request, (path) => compute.run('decodePicture', [path, query.page], true)),
    ),
    bind(app, routes.getShapes, async ({ who, query, response }) => {
      attach(response, 'shapes', await shapePack(db, who.workspaceId, query.from));
    }),
    bind(app, routes.shapeWords, async ({ who, body }) => {
      const leads = await findFaces(db, who.workspaceId, body.faceIds);
      const out: Answer<typeof routes.shapeWords> = [];
      // One after another: files may be large, and all of them at once would fill the memory.
      for (const lead of leads) {
        const bytes = await getBlob(db.manager, who.workspaceId, lead.sha256);
        const shaped = await compute.run('shapeWord', [bytes, lead.faceIndex, body.text], true);
        if (shaped) out.push({ faceId: lead.faceId, ...shaped });
      }
      return out;
    }),
    bind(app, routes.describeCandidates, ({ who, body }) => describeCandidates(db, who.workspaceId, body.faceIds)),
    bind(app, routes.listInquiries, ({ who }) => listInquiries(db, who.workspaceId)),
    bind(app, routes.createInquiry, async ({ who, body }) => describeInquiry(db, who.workspaceId, await createInquiry(db, who, body))),
    bind(app, routes.getInquiry, ({ who, params }) => describeInquiry(db, who.workspaceId, params.inquiryId)),
    bind(app, routes.changeInquiry, async ({ who, params, body }) => {
      await changeInquiry(db, who, params.inquiryId, body);
      return describeInquiry(db, who.workspaceId, params.inquiryId);
    }),
    bind(app, routes.removeInquiry, async ({ who, params }) => {
      const row = await findInquiry(db, who.workspaceId, params.inquiryId);
      await db.getRepository(InquiryEntity).update({ id: row.id }, { removedAt: new Date() });
      return { ok: true as const };
    }),
    bind(app, routes.returnInquiry, async ({ who, params }) => {
      const row = await findInquiry(db, who.workspaceId, params.inquiryId, true);
      await db.getRepository(InquiryEntity).update({ id: row.id }, { removedAt: null });
      return describeInquiry(db, who.workspaceId, params.inquiryId);
    }),
    bind(app, routes.inquiryPicture, async ({ who, params, response }) => {
      attach(response, 'picture.png', await pictureOf(db, who.workspaceId, params.inquiryId), 'image/png');
    }),
  ];
}
