import { findFaces } from './leads.js';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';

/** Colored faces up to this size are sent whole. */
const MOST_COLORED = 16 * 1024 * 1024;

/** Small pieces of faces for lines of live type: an sfnt with just the characters of a text. */
export class FaceLines {
  private readonly fonts = new LRUCache<string, { sfnt: Uint8Array; faceIndex: number }>({
    maxSize: 256 * 1024 * 1024,
    sizeCalculation: (font) => Math.max(1, font.sfnt.length),
  });
  private readonly pieces = new LRUCache<string, Uint8Array>({
    maxSize: 64 * 1024 * 1024,
    sizeCalculation: (data) => Math.max(1, data.length),
  });
  private readonly loading = new Map<string, Promise<{ sfnt: Uint8Array; faceIndex: number }>>();

  constructor(
    private readonly db: DataSource,
    private readonly compute: Compute,
  ) {}

  /** @throws HttpProblem 404, ComputeError when the face cannot be cut. */
  async line(workspaceId: string, faceId: string, text: string): Promise<Uint8Array> {
    const [face] = await findFaces(this.db, workspaceId, [faceId]);
    const codePoints = [...new Set(Array.from(text.normalize('NFC'), (c) => c.codePointAt(0)!))].sort((a, b) => a - b);
    const key = `${face!.sha256}/${face!.faceIndex}/${codePoints.join(',')}`;
    const known = this.pieces.get(key);
    if (known) return known;
    const font = await this.font(workspaceId, face!.sha256, face!.faceIndex);
    // Cut down, a colored face would lose its color, and one of pictures alone would show nothing.
    const whole = face!.facts.color.length > 0 && font.faceIndex === 0 && font.sfnt.length <= MOST_COLORED;
    const data = whole ? font.sfnt : await this.compute.run('subset', [font.sfnt, font.faceIndex, codePoints], true);
    this.pieces.set(key, data);
    return data;
  }

  private async font(workspaceId: string, sha256: string, faceIndex: number): Promise<{ sfnt: Uint8Array; faceIndex: number }> {
    const key = `${sha256}/${faceIndex}`;
    const known = this.fonts.get(key);
    if (known) return known;
    let load = this.loading.get(key);
    if (!load) {
      load = getBlob(this.db.manager, workspaceId, sha256)
        .then((bytes) => this.compute.run('plain', [bytes, faceIndex], true))
        .finally(() => this.loading.delete(key));
      this.loading.set(key, load);
    }
    const font = await load;
    this.fonts.set(key, font);
    return font;
  }
}
