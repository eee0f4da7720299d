/** The core's module as it runs in a page or worker; addresses and lengths are in its memory. */
export interface Instance {
  memory: WebAssembly.Memory;
  zolvet_start(cache: number): void;
  zolvet_room(bytes: number): number;
  zolvet_ask(path: number, question: number): number;
  zolvet_file(id: number): void;
  zolvet_answer(): number;
  zolvet_answer_bytes(): number;
}

export async function instantiate(module: WebAssembly.Module): Promise<Instance> {
  const { exports } = await WebAssembly.instantiate(module, {});
  return exports as unknown as Instance;
}

const text = new TextEncoder();

/** Asks, and gives the status; the answer is in memory until it is asked again. */
export function ask(core: Instance, path: string, body: string): number {
  // UTF-8 has at most three bytes for a unit of UTF-16.
  const room = core.zolvet_room((path.length + body.length) * 3);
  const memory = new Uint8Array(core.memory.buffer, room);
  const { written: name } = text.encodeInto(path, memory);
  const { written } = text.encodeInto(body, memory.subarray(name));
  return core.zolvet_ask(name, written);
}

/** The last answer, in the core's memory. */
export function answerOf(core: Instance): Uint8Array<ArrayBuffer> {
  return new Uint8Array(core.memory.buffer as ArrayBuffer, core.zolvet_answer(), core.zolvet_answer_bytes());
}

/** Gives it the file of an asset. */
export function putFile(core: Instance, id: string, file: Uint8Array) {
  const name = text.encode(id);
  const room = core.zolvet_room(name.length + file.length);
  const memory = new Uint8Array(core.memory.buffer, room);
  memory.set(name);
  memory.set(file, name.length);
  core.zolvet_file(name.length);
}
