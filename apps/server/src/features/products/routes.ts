import { routes } from '@orderly-glyph/schema';
import type { App } from '../../platform/http/context.js';
import { bind, type Bound } from '../../platform/http/serve.js';
import { createProduct, describeProducts, makeRelease } from './products.js';

export function productsRoutes(app: App): Bound[] {
  const { db, compute } = app;
  return [
    bind(app, routes.listProducts, ({ who }) => describeProducts(db, who.workspaceId)),
    bind(app, routes.createProduct, ({ who, body }) => createProduct(db, compute, who, body)),
    bind(app, routes.makeRelease, ({ who, params, body }) => makeRelease(db, compute, who, params.productId, body)),
  ];
}
