import { findFaces } from './leads.js';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';

/** A map that forgets what was used longest ago once it holds more than so many bytes. */
class ByteCache<V extends { bytes: number }> {
  private readonly map = new Map<string, V>();
  private held = 0;
  constructor(private readonly limit: number) {}

  get(key: string): V | undefined {
    const value = this.map.get(key);
    if (value) {
      this.map.delete(key);
      this.map.set(key, value);
    }
    return value;
  }

  set(key: string, value: V): void {
    const old = this.map.get(key);
    if (old) this.held -= old.bytes;
    this.map.delete(key);
    this.map.set(key, value);
    this.held += value.bytes;
    for (const [oldest, entry] of this.map) {
      if (this.held <= this.limit) break;
      this.map.delete(oldest);
      this.held -= entry.bytes;
    }
  }
}

/** Small pieces of faces for lines of live type: an sfnt with just the characters of a text. */
export class FaceLines {
  private readonly fonts = new ByteCache<{ bytes: number; sfnt: Uint8Array; faceIndex: number }>(256 * 1024 * 1024);
  private readonly pieces = new ByteCache<{ bytes: number; data: Uint8Array }>(64 * 1024 * 1024);
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
    if (known) return known.data;
    const font = await this.font(workspaceId, face!.sha256, face!.faceIndex);
    const data = await this.compute.run('subset', [font.sfnt, font.faceIndex, codePoints], true);
    this.pieces.set(key, { bytes: data.length, data });
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
    this.fonts.set(key, { bytes: font.sfnt.length, ...font });
    return font;
  }
}
