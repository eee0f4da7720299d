import { type CallOptions, CoreBackend } from './backend';
import {
  ApiFailure,
  editor,
  fetchInTime,
  LONG_PATIENCE,
  type Problem,
  Unreachable,
  useAccess,
} from './client';

/** The core of the service, over HTTP. */
export class Service extends CoreBackend {
  protected async send(path: string, body: string, { signal }: CallOptions): Promise<ArrayBuffer> {
    const headers = { ...editor, 'Content-Type': 'application/json' };
    const response = await fetchInTime(path, { method: 'POST', headers, body, signal }, LONG_PATIENCE);
    if (response.ok) {
      return response.arrayBuffer().catch((error) => {
        throw signal?.aborted ? error : new Unreachable();
      });
    }
    if (response.status === 401) useAccess.setState({ keyNeeded: true });
    throw new ApiFailure(response.status, (await response.json().catch(() => undefined)) as Problem);
  }
}
