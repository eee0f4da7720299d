import type { IconFile } from '../session/iconSet';

/** Files that are sent at a time, and bytes at most. */
const BATCH = { files: 6, bytes: 1_000_000 };
/** Files in batches that are small enough to be sent. */
export function batchesOf(files: IconFile[]): IconFile[][] {
  const batches: IconFile[][] = [];
  let [batch, bytes]: [IconFile[], number] = [[], 0];
  for (const file of files) {
    if (batch.length === BATCH.files || (batch.length > 0 && bytes + file.data.length > BATCH.bytes)) {
      batches.push(batch);
      [batch, bytes] = [[], 0];
    }
    batch.push(file);
    bytes += file.data.length;
  }
  return batch.length > 0 ? [...batches, batch] : batches;
}
