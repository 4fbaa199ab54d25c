/**
 * Sum of a table's big-endian 32-bit words modulo 2^32, the last word padded with zeros.
 * Source: OpenType specification, "Calculating checksums".
 */
export function tableChecksum(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const whole = bytes.length & ~3;
  let sum = 0;
  for (let i = 0; i < whole; i += 4) sum = (sum + view.getUint32(i)) | 0;
  let last = 0;
  for (let i = whole; i < bytes.length; i++) last |= bytes[i]! << (24 - 8 * (i - whole));
  return (sum + last) >>> 0;
}

/** `tableChecksum` of a head table as if its checkSumAdjustment (offset 8) were zero. */
export function headChecksum(head: Uint8Array): number {
  if (head.length < 12) return tableChecksum(head);
  const adjustment = new DataView(head.buffer, head.byteOffset).getUint32(8);
  return (tableChecksum(head) - adjustment) >>> 0;
}
