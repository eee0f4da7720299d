import { ApiFailure, editor, type Problem, useAccess } from './client';
import { type How, Way } from './way';

/** The core of the service, over HTTP. */
export class Service extends Way {
  protected async send(path: string, body: string, { signal }: How): Promise<ArrayBuffer> {
    const response = await fetch(path, {
      method: 'POST',
      headers: { ...editor, 'Content-Type': 'application/json' },
      body,
      signal,
    });
    if (response.ok) return response.arrayBuffer();
    if (response.status === 401) useAccess.setState({ keyNeeded: true });
    throw new ApiFailure(response.status, (await response.json().catch(() => undefined)) as Problem);
  }
}
