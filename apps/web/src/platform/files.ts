/** A file with the path it had in the folder that was dropped or chosen. */
export interface Chosen {
  file: File;
  path: string;
}

function readAll(reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> {
  return new Promise((resolve, reject) => {
    const all: FileSystemEntry[] = [];
    // Browsers hand out a hundred entries at a time.
    const more = (): void =>
      reader.readEntries((entries) => {
        if (entries.length === 0) resolve(all);
        else {
          all.push(...entries);
          more();
        }
      }, reject);
    more();
  });
}

async function walk(entry: FileSystemEntry, into: Chosen[]): Promise<void> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    into.push({ file, path: entry.fullPath.replace(/^\//, '') });
  } else for (const child of await readAll((entry as FileSystemDirectoryEntry).createReader())) await walk(child, into);
}

/** Everything in a drop, folders opened. */
export async function filesOfDrop(transfer: DataTransfer): Promise<Chosen[]> {
  const entries = [...transfer.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  const plain = [...transfer.files].map((file) => ({ file, path: file.name }));
  if (entries.length === 0) return plain;
  const out: Chosen[] = [];
  for (const entry of entries) await walk(entry, out);
  return out;
}

/** Offers bytes that the browser holds as a download. */
export function saveBytes(name: string, bytes: ArrayBuffer, type: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([bytes], { type }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
