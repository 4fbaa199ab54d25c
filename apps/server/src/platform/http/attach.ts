import { create } from 'content-disposition';
import type { Response } from 'express';

/** The headers of an answer that is saved as a file, for streams that are written piece by piece. */
export function attachment(response: Response, name: string, type: string): void {
  response.setHeader('Content-Type', type);
  response.setHeader('Content-Disposition', create(name.replace(/[\\/]/g, '_')));
  response.setHeader('Cache-Control', 'private, no-store');
}

/** Received bytes only ever leave as a download: a browser must not show an uploaded page or drawing as ours. */
export function attach(response: Response, name: string, bytes: Uint8Array, type = 'application/octet-stream'): void {
  attachment(response, name, type);
  response.setHeader('Content-Security-Policy', "sandbox; default-src 'none'");
  response.end(Buffer.from(bytes));
}
