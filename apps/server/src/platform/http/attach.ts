import type { Response } from 'express';

/** Received bytes only ever leave as a download: a browser must not show an uploaded page or drawing as ours. */
export function attach(response: Response, name: string, bytes: Uint8Array, type = 'application/octet-stream'): void {
  response.setHeader('Content-Type', type);
  response.setHeader(
    'Content-Disposition',
    `attachment; filename="${name.replace(/[^\w. -]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
  );
  response.setHeader('Content-Security-Policy', "sandbox; default-src 'none'");
  response.setHeader('Cache-Control', 'private, no-store');
  response.end(Buffer.from(bytes));
}
