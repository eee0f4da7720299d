// Packs what the front end's build wrote: scripts and styles once, here, and not for everybody who asks for them.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const folder = 'dist/assets';
const best = { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } };
for (const name of readdirSync(folder).filter((name) => /\.(js|css)$/.test(name))) {
  const bytes = readFileSync(`${folder}/${name}`);
  writeFileSync(`${folder}/${name}.br`, brotliCompressSync(bytes, best));
  writeFileSync(`${folder}/${name}.gz`, gzipSync(bytes, { level: 9 }));
}
