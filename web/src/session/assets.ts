import { editor, fetchInTime, PATIENCE, type Problem, type Schemas } from '../core/client';
import { edit } from './store';

/** A file's name without what tells its kind. */
export function nameOfFile(file: File): string {
  return file.name.replace(/\.[a-z]+$/i, '');
}

/** Bytes a ms that a network takes at least. */
const SLOWEST = 16;

/** Gives the service an icon or picture; an error says why it was refused. */
export async function upload(file: File): Promise<Schemas['Uploaded']> {
  const headers = { ...editor, 'Content-Type': file.type || 'application/octet-stream' };
  const address = `/api/assets?name=${encodeURIComponent(nameOfFile(file))}`;
  const patience = PATIENCE + file.size / SLOWEST;
  const response = await fetchInTime(address, { method: 'POST', headers, body: file }, patience);
  const answer = (await response.json()) as Schemas['Uploaded'] | Problem;
  if (!response.ok) throw new Error((answer as Problem).detail);
  return answer as Schemas['Uploaded'];
}

/** Names an uploaded picture in the project. */
export function addAsset(asset: Schemas['Asset']) {
  edit((draft) => {
    const assets = draft.assets ?? [];
    draft.assets = assets.some((other) => other.id === asset.id) ? assets : [...assets, asset];
  });
}
