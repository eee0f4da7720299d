import { editor, fetchInTime, type Problem, type Schemas } from '../core/client';
import { edit } from './store';

/** A file's name without what tells its kind. */
export function nameOfFile(file: File): string {
  return file.name.replace(/\.[a-z]+$/i, '');
}

/** Gives the service an icon or picture; an error says why it was refused. */
export async function upload(file: File): Promise<Schemas['Uploaded']> {
  const response = await fetchInTime(`/api/assets?name=${encodeURIComponent(nameOfFile(file))}`, {
    method: 'POST',
    headers: { ...editor, 'Content-Type': file.type || 'application/octet-stream' },
    body: file,
  });
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
