import { createRequire } from 'node:module';
import { createCanvas, GlobalFonts, loadImage } from '@napi-rs/canvas';
import { decodeShapes, editPicture, findFaces, inkOf, readWord, usualWidths, widthsOf } from '@orderly-glyph/core';

/** A small soft picture, as a customer copies it out of an old letterhead. */
async function letterhead(words) {
  const path = createRequire(import.meta.url).resolve('@expo-google-fonts/young-serif/400Regular/YoungSerif_400Regular.ttf');
  GlobalFonts.registerFromPath(path, 'Letterhead');
  const canvas = createCanvas(330, 84);
  const x = canvas.getContext('2d');
  x.fillStyle = '#f3e7cf';
  x.fillRect(0, 0, 330, 84);
  x.translate(165, 52);
  x.rotate(-0.018);
  x.filter = 'blur(0.8px)';
  x.fillStyle = '#5b2333';
  x.font = '40px Letterhead';
  x.textAlign = 'center';
  x.fillText(words, 0, 4);
  const image = await loadImage(canvas.toBuffer('image/jpeg', 55));
  const out = createCanvas(330, 84);
  out.getContext('2d').drawImage(image, 0, 0);
  return {
    png: out.toBuffer('image/png'),
    picture: { width: 330, height: 84, data: out.getContext('2d').getImageData(0, 0, 330, 84).data },
  };
}

/** An inquiry of a customer of the sample business, looked for among its own faces. */
export async function loadInquiries(client) {
  const word = 'Thistledown';
  const { png, picture } = await letterhead(word);
  const pack = await client.bytes('/api/pictures/shapes');
  const faces = [];
  for (let at = 4, i = 0; i < pack.readUInt32BE(0); i++) {
    const [a, b, c] = [0, 4, 8].map((k) => pack.readUInt32BE(at + k));
    at += 12;
    const item = { faceId: pack.toString('utf8', at, at + a), familyId: pack.toString('utf8', at + a, at + a + b) };
    faces.push({ item, shapes: decodeShapes(new Uint8Array(pack.subarray(at + a + b, at + a + b + c))) });
    at += a + b + c;
  }
  const { field } = inkOf(editPicture(picture, []));
  const read = readWord(field, widthsOf(word, usualWidths(faces.map((f) => f.shapes))));
  const { answer } = findFaces(word, read, faces, (f) => f.familyId);
  await client.call('POST', '/api/inquiries', {
    title: 'Thistledown letterhead',
    customer: 'Thistledown Tea Room',
    note: 'Wants forty aprons with the old name on them. Has nothing but this picture.',
    price: 45,
    currency: 'USD',
    use: 'printed-goods',
    open: true,
    reading: {
      edits: [],
      ground: null,
      ink: null,
      level: null,
      specks: 0,
      pinholes: 0,
      word,
      without: [],
      asWord: null,
      stretched: false,
      slanted: false,
    },
    sureness: answer.sureness,
    candidates: answer.families.map(({ best, siblings, twins }) => ({
      faceId: best.item.faceId,
      score: best.score,
      stretch: best.stretch,
      slant: best.slant,
      scale: best.scale,
      differs: best.differs,
      siblings: siblings.map((s) => s.item.faceId),
      twins: twins.map((t) => t.item.faceId),
    })),
    kept: {
      width: field.width,
      height: field.height,
      values: Buffer.from(Uint8Array.from(field.values, (v) => Math.min(255, Math.round(160 * v)))).toString('base64'),
    },
    png: png.toString('base64'),
  });
}
