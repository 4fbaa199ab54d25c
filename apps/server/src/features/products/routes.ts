import { routes, type Product } from '@orderly-glyph/schema';
import type { Touching } from '../licenses/index.js';
import type { App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { createProduct, describeProducts, makeRelease } from './products.js';

export function productsRoutes(app: App): Bound[] {
  const { db, compute } = app;
  const changed = async (workspaceId: string, act: Promise<Touching<Product>>) => {
    const { said, faceIds } = await act;
    return { ...said, changed: await app.families.changed(workspaceId, faceIds) };
  };
  return [
    bind(app, routes.listProducts, ({ who }) => describeProducts(db, who.workspaceId)),
    bind(app, routes.createProduct, ({ who, body }) => changed(who.workspaceId, createProduct(db, compute, who, body))),
    bind(app, routes.makeRelease, ({ who, params, body }) =>
      changed(who.workspaceId, makeRelease(db, compute, who, params.productId, body)),
    ),
  ];
}
